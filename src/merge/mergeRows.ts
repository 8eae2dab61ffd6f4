import { type AnyKind, type AnyModel, givenTo, putIn, storedFields, valueIn } from "../model/index.ts";
import type { Conflict } from "./Conflict.ts";

/** A row as both sides began with it, and what each made of it; `undefined` where it was not there, or is not any more. */
export interface Sides {
  readonly base: unknown;
  readonly mine: unknown;
  readonly theirs: unknown;
  /** Whether two who enter the same disagree too: what each entered may belong to something else that is to be right, as what is left to what was sold. */
  readonly isStrict?: boolean | undefined;
}

/** What two sides made of one row together. */
export interface MergedRow {
  /** The row with what either side changed; where both changed a field to different values, with the one of here. */
  readonly row: Readonly<Record<string, unknown>> | undefined;
  /** What somebody has to choose; without any, `row` is what both meant. */
  readonly conflict: RowConflict | undefined;
}

/** What two sides changed in one row in different ways. */
export interface RowConflict extends Sides {
  /** By field, what differs; none where one side deleted the row that the other changed. */
  readonly fields: Readonly<Record<string, Conflict>>;
}

const valueOf = (row: unknown, name: string, kind: AnyKind): unknown => valueIn(row, name) ?? kind.empty;

/** Whether two rows have the same in all fields that are saved. @param isEntered - only of those that people and code enter */
export function sameRow(model: AnyModel, a: unknown, b: unknown, isEntered = true): boolean {
  if (a === b) return true;
  if (a === undefined || b === undefined) return false;
  for (const [name, kind] of storedFields(model)) {
    const [here, there] = [valueIn(a, name), valueIn(b, name)];
    // Most fields are the very same.
    if (here === there || (isEntered && givenTo(kind) !== undefined)) continue;
    if (!kind.same(here ?? kind.empty, there ?? kind.empty)) return false;
  }
  return true;
}

/**
 * Merges by field what was made of a row here and elsewhere. What only one side changed is taken; what both changed to the same is no
 * conflict; a blank is a value like any other. A row that one side deleted and the other changed is a conflict as a whole.
 */
export function mergeRows(model: AnyModel, sides: Sides): MergedRow {
  const { base, mine, theirs, isStrict } = sides;
  if (mine === undefined || theirs === undefined) return mergeDeleted(model, sides);
  const row: Record<string, unknown> = {};
  const fields: Record<string, Conflict> = {};
  for (const [name, kind] of storedFields(model)) {
    const [began, here, there] = [base, mine, theirs].map((side) => valueOf(side, name, kind));
    // What the place gives is as the place has it.
    const isMine = givenTo(kind) === undefined && !kind.same(began, here);
    const isTheirs = !kind.same(began, there);
    const isSame = kind.same(here, there) && (isStrict !== true || model.parts.key.includes(name));
    if (isMine && isTheirs && !isSame) fields[name] = { base: began, mine: here, theirs: there };
    putIn(row, name, isMine ? here : there);
  }
  const conflict = Object.keys(fields).length === 0 ? undefined : { ...sides, fields };
  return { row: Object.freeze(row), conflict };
}

function mergeDeleted(model: AnyModel, sides: Sides): MergedRow {
  const { base, mine, theirs } = sides;
  const isDeleted = mine === undefined ? sameRow(model, base, theirs) : sameRow(model, base, mine);
  if (isDeleted || (mine === undefined && theirs === undefined)) return { row: undefined, conflict: undefined };
  // Nobody had it, and one side has it now.
  if (base === undefined) return { row: (mine ?? theirs) as Readonly<Record<string, unknown>>, conflict: undefined };
  return { row: mine as MergedRow["row"], conflict: { ...sides, fields: {} } };
}
