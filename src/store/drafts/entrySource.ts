import { because, inOneUnit, transaction } from "../../engine/index.ts";
import { type EntryState, FieldState, FOLLOWING } from "../../entry/index.ts";
import {
  type AnyKind,
  type AnyModel,
  formerNames,
  putIn,
  sayOfKeeping,
  storedFields,
  valueIn,
} from "../../model/index.ts";
import { olderRow, valueFromJson, valueToJson } from "../text/index.ts";
import type { DraftSource, DraftText } from "./Draft.ts";

/** What one field held. */
interface DraftField {
  readonly title: string;
  /** The value as JSON; absent where it was blank. */
  readonly value?: unknown;
  /** What was typed, where it was typed. */
  readonly text?: string;
  /** What it began with, in a row that was edited. */
  readonly base?: unknown;
  /** That it held a file, whose content is not in a draft. */
  readonly file?: true;
}

/** What was entered and not saved, by the names of the fields: as JSON. */
type DraftFields = Readonly<Record<string, DraftField>>;

/** What of a draft its entry can't hold any more. */
interface LeftOut {
  /** The name of the field. */
  readonly name: string;
  readonly title: string;
  /** What was in it, as it was typed. */
  readonly value: string;
  readonly reason: "noField" | "otherValue" | "file";
}

/** What a person has entered and not saved; followed. `undefined` where that is nothing. Secrets are no part of it. */
function draftFields(entry: EntryState): DraftFields | undefined {
  const { core } = entry;
  const fields: Record<string, DraftField> = {};
  let count = 0;
  for (const name of core.model.names) {
    if (core.model.isCalculated(name)) continue;
    const field = core.field(name);
    if (!(field instanceof FieldState) || field.kind.options.writeOnly === true) continue;
    const { held } = field;
    if (held === FOLLOWING || !differs(field)) continue;
    fields[name] = fieldOf(field, core.isNew ? undefined : core.baseline.entered(name).value);
    count++;
  }
  return count === 0 ? undefined : fields;
}

const differs = (field: FieldState): boolean =>
  field.changed || (field.kind.options.saved === false && field.held.text !== undefined);

function fieldOf(field: FieldState, base: unknown): DraftField {
  const { kind, title, held } = field;
  const { value, text } = held;
  const json = jsonOf(kind, value);
  return {
    title,
    ...(json !== undefined && kind.kind !== "file" && { value: json }),
    ...(kind.kind === "file" && !kind.isBlank(value) && { file: true as const }),
    ...(text !== undefined && { text }),
    ...(base !== undefined && { base: jsonOf(kind, base) }),
  };
}

const jsonOf = (kind: AnyKind, value: unknown): unknown =>
  value === undefined || kind.isBlank(value) ? undefined : valueToJson(kind, value);

/** What is entered into an entry, as what a draft is of. */
export function entrySource(entry: EntryState): DraftSource<DraftFields> {
  const { core } = entry;
  return {
    get locale() {
      return core.locale;
    },
    model: core.model.title,
    read: () => draftFields(entry),
    isContent: (json): json is DraftFields => typeof json === "object" && json !== null && !Array.isArray(json),
    titles: (fields) => Object.values(fields).map(({ title }) => title),
    take: (draft) => {
      const { locale } = core;
      return takeFields(entry, draft).map(({ name, title, value, reason }) => ({
        name,
        message: sayOfKeeping(locale, "draftLeftOut", {
          reason: sayOfKeeping(locale, words[reason], { title, value }),
        }),
      }));
    },
  };
}

const words = { noField: "draftNoField", otherValue: "draftOtherValue", file: "draftFile" } as const;

/** Puts what a draft holds into an entry, as one step to be undone. A field that was changed meanwhile where its row is kept is in conflict. */
function takeFields(entry: EntryState, draft: DraftText<DraftFields>): readonly LeftOut[] {
  const notTaken: LeftOut[] = [];
  let leftOut: readonly LeftOut[] = notTaken;
  because({ cause: "command" }, () =>
    inOneUnit(
      () => sayOfKeeping(entry.core.locale, "draftTake"),
      () =>
        transaction(() => {
          for (const [given, field] of Object.entries(draft.content)) {
            const name = nameNow(entry.core.model, given, draft.content);
            const reason = takeField(entry, name, field, draft.locale === entry.core.locale);
            if (reason !== undefined) notTaken.push({ name, title: field.title, value: textOf(field), reason });
          }
          leftOut = takeOlder(entry, draft.content, notTaken);
        }),
    ),
  );
  return leftOut;
}

/** What a field is called now, which an older model may have called otherwise. */
function nameNow(model: AnyModel, name: string, content: DraftFields): string {
  if (model.kindOf(name) !== undefined) return name;
  const now = model.names.find((each) => formerNames(model.parts.formerly, each).includes(name));
  return now === undefined || now in content ? name : now;
}

/** Puts in what the model's own reading makes of what could not be taken. @returns what is left out in the end */
function takeOlder({ core }: EntryState, content: DraftFields, leftOut: readonly LeftOut[]): readonly LeftOut[] {
  if (leftOut.length === 0 || core.model.parts.formerly.length === 0) return leftOut;
  const given: Record<string, unknown> = {};
  for (const { name } of leftOut) putIn(given, name, content[name]?.value ?? content[name]?.text);
  const { json, covered } = olderRow(core.model, given);
  for (const [name, kind] of storedFields(core.model)) {
    const state = core.field(name);
    const { value } = read(kind, valueIn(json, name));
    const isMeant = !(name in content) || leftOut.some((each) => each.name === name);
    if (isMeant && state instanceof FieldState && !kind.isBlank(value) && kind.belongs(value)) state.value = value;
  }
  return leftOut.filter(({ name }) => !covered.has(name.split(".", 1)[0]!));
}

const textOf = ({ text, value }: DraftField): string =>
  text ?? (typeof value === "string" ? value : JSON.stringify(value ?? ""));

function takeField(
  { core }: EntryState,
  name: string,
  field: DraftField,
  isSameLocale: boolean,
): LeftOut["reason"] | undefined {
  const kind = core.model.kindOf(name);
  if (kind === undefined || core.model.isCalculated(name)) return "noField";
  if (field.file === true) return "file";
  const state = core.field(name);
  if (!(state instanceof FieldState) || kind.options.writeOnly === true) return undefined;
  const { value, problems } = read(kind, field.value);
  const fits = problems === undefined && (value === kind.empty || kind.belongs(value));
  const typed: unknown = field.text;
  if (typeof typed === "string" && (isSameLocale || field.value === undefined || !fits)) state.enter(typed);
  else if (fits) state.value = value;
  else return "otherValue";
  rebase(state, kind, field, core.isNew ? undefined : core.baseline.entered(name).value);
  return undefined;
}

const read = (kind: AnyKind, json: unknown): ReturnType<typeof valueFromJson> =>
  json === undefined ? { value: kind.empty as unknown } : valueFromJson(kind, json);

/** What the row has now is what others have made of it since the draft was begun. */
function rebase(state: FieldState, kind: AnyKind, field: DraftField, now: unknown): void {
  if (now === undefined && !("base" in field)) return;
  const base = read(kind, field.base).value;
  if (!kind.same(base, now)) state.rebase(base, now);
}
