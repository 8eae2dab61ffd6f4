import { notices } from "../../command/index.ts";
import { internal, transaction } from "../../engine/index.ts";
import { type AnyEntry, type EntryState, FieldState } from "../../entry/index.ts";
import { type AnyKind, type AnyModel, formerNames, putIn, storedFields, valueIn } from "../../model/index.ts";
import { leaveOpen, openEntryAt, rowsOf, saysGoneEntered, TableEntryState } from "../../rows/index.ts";
import type { TableState } from "../../table/index.ts";
import { olderRow, toJson, valueFromJson } from "../text/index.ts";
import type { DraftField, DraftFields } from "./draftFields.ts";
import type { LeftOut } from "./leftOut.ts";
import { isKept, rowsWithSecretsOf } from "./secrets.ts";

/**
 * Enters what was typed before. A field that was changed meanwhile where its row is kept is in conflict.
 *
 * @param locale - the language in which it was typed
 * @returns what its entry can't hold any more
 */
export function enterTyped(entry: EntryState, content: DraftFields, locale: string): readonly LeftOut[] {
  const { model } = entry.core;
  const notTaken: LeftOut[] = [];
  let leftOut: readonly LeftOut[] = notTaken;
  transaction(() => {
    for (const [given, field] of Object.entries(content)) {
      const name = nameNow(model, given, content);
      const reason = takeField(entry, name, field, locale === entry.core.locale);
      if (reason !== undefined) notTaken.push({ name, title: field.title, value: textOf(field), reason });
    }
    leftOut = takeOlder(entry, content, notTaken);
  });
  // The rows are in their table when the transaction is over.
  const inside = Object.entries(content).flatMap(([given, field]) =>
    field.open !== undefined ? enterInside(entry, nameNow(model, given, content), field, locale) : [],
  );
  return [...leftOut, ...inside];
}

/** Enters what was typed in rows inside, which are left open: who edits them finds it there. */
function enterInside(entry: EntryState, name: string, field: DraftField, locale: string): readonly LeftOut[] {
  const { rowModel } = entry.core.model.kindOf(name) ?? {};
  if (rowModel === undefined) return [];
  const table = rowsOf(entry as AnyEntry, name)[internal] as TableState;
  const slots = table.slotsInOrder();
  const before = field.value as readonly unknown[] | undefined;
  return field.open!.flatMap(({ place, fields }): readonly LeftOut[] => {
    const slot = slots[place];
    const row = slot === undefined ? undefined : toJson(rowModel as AnyModel, table.rowAt(slot) as never, isKept);
    if (slot !== undefined && JSON.stringify(row) === JSON.stringify(before?.[place]))
      return enterAndLeave(table, slot, fields, locale);
    return noneOf(fields).map((each) => ({ ...each, name: `${name}.${each.name}` }));
  });
}

/** All of it is left out, since its row was changed meanwhile. */
const noneOf = (fields: DraftFields): LeftOut[] =>
  Object.entries(fields).map(([name, each]) => ({
    name,
    title: each.title,
    value: textOf(each),
    reason: "rowChanged",
  }));

/** Enters what was typed in a row of a table, and leaves it open there. What a person has typed there since stays. */
export function enterAndLeave(
  table: TableState,
  slot: number,
  fields: DraftFields,
  locale: string,
): readonly LeftOut[] {
  const there = openEntryAt(table, slot);
  if (there?.changed === true) return noneOf(fields);
  const entry = there ?? new TableEntryState(table, slot, {});
  const leftOut = enterTyped(entry, fields, locale);
  if (there === undefined) leaveOpen(entry, () => notices.say(saysGoneEntered(entry), "error"));
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
  // Only in one of its rows something was typed.
  if (field.open !== undefined && "base" in field && JSON.stringify(field.value) === JSON.stringify(field.base))
    return undefined;
  const { value, problems } = read(kind, field.value);
  const fits = problems === undefined && (value === kind.empty || kind.belongs(value));
  const typed: unknown = field.text;
  if (typeof typed === "string" && (isSameLocale || field.value === undefined || !fits)) state.enter(typed);
  else if (fits) state.value = withSecrets(kind, value, state.value);
  else return "otherValue";
  rebase(state, kind, field, core.isNew ? undefined : core.baseline.entered(name).value);
  return undefined;
}

const withSecrets = ({ rowModel }: AnyKind, value: unknown, now: unknown): unknown =>
  rowModel === undefined
    ? value
    : rowsWithSecretsOf(rowModel as AnyModel, value as readonly object[], (now ?? []) as readonly object[]);

const read = (kind: AnyKind, json: unknown): ReturnType<typeof valueFromJson> =>
  json === undefined ? { value: kind.empty as unknown } : valueFromJson(kind, json);

/** What the row has now is what others have made of it since the draft was begun. */
function rebase(state: FieldState, kind: AnyKind, field: DraftField, now: unknown): void {
  if (now === undefined && !("base" in field)) return;
  const base = withSecrets(kind, read(kind, field.base).value, now);
  if (!kind.same(base, now)) state.rebase(base, now);
}
