import { platform } from "../engine/index.ts";
import { IronwoodError } from "../errors/index.ts";
import { type AnyModel, isForNow, type RowOf } from "../model/index.ts";
import type { Referred, TableState } from "../table/index.ts";
import type { Unsaved } from "./Unsaved.ts";

/** Rows that can't be written before rows of another table are, since the place has still to give those their keys. */
export interface WaitingRows {
  readonly count: number;
  /** The table of the rows that have to be saved first. */
  readonly first: Referred | undefined;
}

export const noneWaits: WaitingRows = { count: 0, first: undefined };

/** The table of a row that has to be saved before one; `undefined` where there is none. */
export const firstBefore = <M extends AnyModel>(
  table: TableState<M>,
  row: RowOf<M> | undefined,
): Referred | undefined => table.referencesOf(row).find(({ to, key }) => to.isKeyGiven && isForNow(key))?.to;

/** Those of the rows that differ that have to wait. */
export function rowsWaiting<M extends AnyModel>(table: TableState<M>, unsaved: Unsaved<M>): WaitingRows {
  if (!Object.values(table.references).some(({ isKeyGiven }) => isKeyGiven)) return noneWaits;
  const firsts = unsaved.rows().flatMap(({ now }) => firstBefore(table, now) ?? []);
  return { count: firsts.length, first: firsts[0] };
}

/** Tells the builder, once, of rows that refer to rows which nothing saves: they are never written. */
export class EndlessWait {
  #isReported = false;
  readonly #where: string;

  constructor({ where }: { readonly where: string }) {
    this.#where = where;
  }

  look({ count, first }: WaitingRows): void {
    if (this.#isReported || first === undefined || first.keptAt !== undefined) return;
    this.#isReported = true;
    const message = `Rows of ${this.#where} (${count} now) are not written: they refer to rows of ${first.where}, which is not kept anywhere`;
    const expected = "keep() for the other table too, or keepTogether() for both";
    platform.report(new IronwoodError("keptTable", message, { expected }));
  }
}
