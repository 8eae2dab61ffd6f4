import { Calculation, untracked } from "../engine/index.ts";
import { columnFrom, type OrderColumn, type RowSource } from "./columns.ts";
import { asPart, overRanges, type Slices } from "./slices.ts";
import { sortSlots } from "./sortSlots.ts";

/** So many rows are calculated between two pauses: a calculation may take longer than all the rest. */
const AT_ONCE = 1 << 11;

/** An order, and what was read for it. */
export interface SortedSlots {
  readonly sorted: Uint32Array;
  /**
   * Of what is calculated, which may depend on anything: each gives 1 as long as nothing that was read for it has changed. Who uses the
   * order reads them too, and so depends on the same.
   */
  readonly readings: readonly Calculation<number>[];
}

/** Sorts slots by the rows as they are now. The slots given are used up. */
export function* sortInSlices(
  slots: Uint32Array,
  orderBy: readonly (string | OrderColumn)[],
  source: RowSource,
): Slices<SortedSlots> {
  const ofRow: RowSource = { ...source, rowsBySlot: source.rowsBySlot.slice() };
  const readings: Calculation<number>[] = [];
  let sorted = slots;
  // The last column first: each sorting keeps the order of the one before where its own keys are alike.
  for (const [index, each] of orderBy.toReversed().entries()) {
    const column = columnFrom(each, ofRow);
    const work = column.isOfRow ? sortSlots(sorted, [column], ofRow) : sortByCalculated(sorted, each, ofRow, readings);
    sorted = yield* asPart(work, index / orderBy.length, (index + 1) / orderBy.length);
  }
  return { sorted, readings };
}

function* sortByCalculated(
  slots: Uint32Array,
  orderBy: string | OrderColumn,
  source: RowSource,
  readings: Calculation<number>[],
): Slices<Uint32Array> {
  const { name } = columnFrom(orderBy, source);
  const values: unknown[] = [];
  const { rowsBySlot } = source;
  const read = (from: number, to: number): void => {
    let times = 0;
    const reading = new Calculation(
      () => {
        times++;
        // Again it is read only where something has changed: the values are of no use then.
        if (times === 1)
          for (const slot of slots.subarray(from, to)) values[slot] = source.valueOf(rowsBySlot[slot] as never, name);
        return times;
      },
      { sort: "other", of: "an order" },
    );
    untracked(() => reading.read());
    readings.push(reading);
  };
  yield* asPart(overRanges(slots.length, read, AT_ONCE), 0, 0.5);
  const column = columnFrom(orderBy, { ...source, valueOf: (value: unknown) => value });
  return yield* asPart(sortSlots(slots, [column], { ...source, rowsBySlot: values }), 0.5, 1);
}
