import { because, inOneUnit, transaction } from "../../engine/index.ts";
import { type EntryState, FieldState, FOLLOWING } from "../../entry/index.ts";
import type { AnyKind } from "../../model/index.ts";
import { valueFromJson, valueToJson } from "../text/index.ts";

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

/** What was entered and not saved: as JSON, for the next window. */
export interface DraftContent {
  /** What the rows of its model are called. */
  readonly model: string | undefined;
  /** When it was begun, and changed last: RFC 9557, in UTC. */
  readonly begun: string;
  readonly changed: string;
  /** The language in which texts were typed. */
  readonly locale: string;
  readonly fields: Readonly<Record<string, DraftField>>;
  /** The name of the control in which the person was. */
  readonly control?: string | undefined;
}

/** What of a draft its entry can't hold any more. */
export interface LeftOutOfDraft {
  /** The name of the field. */
  readonly name: string;
  readonly title: string;
  /** What was in it, as it was typed. */
  readonly value: string;
  readonly reason: "noField" | "otherValue" | "file";
}

/** What a person has entered and not saved; followed. `undefined` where that is nothing. Secrets are no part of it. */
export function draftFields(entry: EntryState): DraftContent["fields"] | undefined {
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

/** A draft from its text; `undefined` for what is none. */
export function readDraft(text: string): DraftContent | undefined {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    return undefined;
  }
  const { begun, changed, locale, fields } = (json ?? {}) as Partial<DraftContent>;
  const isDraft =
    [begun, changed, locale].every((each) => typeof each === "string") &&
    typeof fields === "object" &&
    (fields as unknown) !== null &&
    !Array.isArray(fields);
  return isDraft && !Number.isNaN(Date.parse(changed!)) ? (json as DraftContent) : undefined;
}

/**
 * Puts what a draft holds into an entry, as one step to be undone. A field that was changed meanwhile where its row is kept is in conflict.
 *
 * @param title - what the step is called
 * @returns what the entry can't hold
 */
export function takeDraft(entry: EntryState, draft: DraftContent, title: () => string): readonly LeftOutOfDraft[] {
  const leftOut: LeftOutOfDraft[] = [];
  because({ cause: "command" }, () =>
    inOneUnit(title, () =>
      transaction(() => {
        for (const [name, field] of Object.entries(draft.fields)) {
          const reason = takeField(entry, name, field, draft.locale === entry.core.locale);
          if (reason !== undefined) leftOut.push({ name, title: field.title, value: textOf(field), reason });
        }
      }),
    ),
  );
  return leftOut;
}

const textOf = ({ text, value }: DraftField): string =>
  text ?? (typeof value === "string" ? value : JSON.stringify(value ?? ""));

function takeField(
  { core }: EntryState,
  name: string,
  field: DraftField,
  isSameLocale: boolean,
): LeftOutOfDraft["reason"] | undefined {
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
