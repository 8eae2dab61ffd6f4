import { because, inOneUnit } from "../../engine/index.ts";
import type { EntryState } from "../../entry/index.ts";
import { sayOfKeeping } from "../../model/index.ts";
import type { DraftSource, NotTaken } from "./Draft.ts";
import { type DraftFields, isDraftFields, typedIn } from "./draftFields.ts";
import { enterTyped } from "./enterTyped.ts";
import { inWords, type LeftOut } from "./leftOut.ts";

/** What is entered into an entry, as what a draft is of. */
export function entrySource(entry: EntryState): DraftSource<DraftFields> {
  const { core } = entry;
  return {
    get locale() {
      return core.locale;
    },
    model: core.model.title,
    read: () => typedIn(entry),
    isContent: isDraftFields,
    titles: (fields) => Object.values(fields).map(({ title }) => title),
    take: ({ content, locale }) => enterAsOneStep(entry, content, locale),
  };
}

/** Enters what a draft holds, as one step to be undone. @returns what is left out, in words */
export function enterAsOneStep(entry: EntryState, content: DraftFields, locale: string): NotTaken[] {
  let leftOut: readonly LeftOut[] = [];
  because({ cause: "command" }, () =>
    inOneUnit(
      () => sayOfKeeping(entry.core.locale, "draftTake"),
      () => {
        leftOut = enterTyped(entry, content, locale);
      },
    ),
  );
  return inWords(entry.core.locale, leftOut);
}
