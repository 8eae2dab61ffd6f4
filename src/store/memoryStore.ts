import { platform } from "../engine/index.ts";
import { requireModel, requireOptions } from "../errors/index.ts";
import type { AnyModel, KeyOf, RowOf } from "../model/index.ts";
import type { Writer } from "./changes/index.ts";
import { MemoryPlace } from "./MemoryPlace.ts";
import { type ChangeableStore, StoreError, type StoreErrorKind } from "./Store.ts";

/** What the next call is to suffer: the place fails, or it does the work and its answer is lost on the way. */
export type Fault = StoreErrorKind | "lostAnswer";

/** Rows in memory, gone with the program: for tests and demonstrations. */
export interface MemoryStore<Row, Key> extends ChangeableStore<Row, Key> {
  /** Another store at the same place, as another window or another program has it. */
  again(): MemoryStore<Row, Key>;
  /** Has the next calls of this store fail: so many of them, default 1. */
  failNext(fault: Fault, times?: number): void;
}

const faults: Readonly<Record<StoreErrorKind, (place: string) => string>> = {
  unreachable: (place) => `${place} can't be reached. What was entered is still here: try again in a while.`,
  refused: (place) => `${place} does not take it. What was entered is still here: ask who looks after ${place}.`,
  full: (place) => `There is no room left in ${place}. What was entered is still here: make room, and try again.`,
};

/**
 * A store whose rows are in memory.
 *
 * @param options - `rows`: those that are there at first; `place`: what people call it, default `memory`; `remembered`: how many changes
 *   can be followed afterwards, default 10,000; `by`: who writes, or what says it, for fields with `given: "createdBy"` and `"changedBy"`
 * @throws `unknownOption`, `wrongOption`
 * @example const stock = memoryStore(plant, { rows: [{ tag: "AB-0042", bed: 7 }] });
 */
export function memoryStore<M extends AnyModel>(
  model: M,
  options: {
    readonly rows?: readonly RowOf<M>[] | undefined;
    readonly place?: string | undefined;
    readonly remembered?: number | undefined;
    readonly by?: string | (() => string) | undefined;
  } = {},
): MemoryStore<RowOf<M>, KeyOf<M>> {
  requireModel("memoryStore", model);
  requireOptions("memoryStore", options, { rows: "list", place: "text", remembered: "count", by: "textOrFunction" });
  const { rows = [], place = "memory", remembered = 10_000, by } = options;
  return openMemory(new MemoryPlace(model, place, rows, remembered), by);
}

function openMemory<M extends AnyModel>(memory: MemoryPlace<M>, by: Writer): MemoryStore<RowOf<M>, KeyOf<M>> {
  const { place } = memory;
  const coming: Fault[] = [];
  /** Each call takes a turn of the platform, as at a place that is elsewhere. */
  const ask = async <T>(
    work: () => T,
    signal?: { readonly aborted: boolean; readonly reason?: unknown },
  ): Promise<T> => {
    await new Promise<void>((go) => platform.soon(go));
    if (signal?.aborted === true) throw signal.reason;
    const fault = coming.shift();
    if (fault !== undefined && fault !== "lostAnswer") throw new StoreError(fault, faults[fault](place));
    const answer = work();
    if (fault === "lostAnswer") throw new StoreError("unreachable", faults.unreachable(place));
    return answer;
  };
  return {
    place,
    async *read({ signal } = {}) {
      const rows = await ask(() => memory.rows(), signal);
      for (const row of rows) {
        if (signal?.aborted === true) throw signal.reason;
        yield row;
      }
    },
    write: (changes, { id, signal }) => ask(() => memory.write(changes, id, by), signal),
    mark: () => ask(() => memory.mark),
    follow: (since, listener, { signal }) => memory.follow(since, listener, signal),
    async append(row, { signal } = {}) {
      await ask(() => memory.append(row, by), signal);
      return { place };
    },
    again: () => openMemory(memory, by),
    failNext(fault, times = 1) {
      for (let time = 0; time < times; time++) coming.push(fault);
    },
  };
}
