import { type AbortSignalLike, platform } from "../engine/index.ts";
import type { AnyModel, KeyOf, RowOf } from "../model/index.ts";
import { keyIn } from "../table/index.ts";
import type { News } from "./disputedRows.ts";
import type { LeftOutRow } from "./Kept.ts";
import type { ChangeableStore, StoredRow } from "./Store.ts";

/** All rows of a place: those that can be read, where each is there, and what is wrong with the others. */
export interface PlaceRead<M extends AnyModel> {
  readonly rows: RowOf<M>[];
  /** The version of each row. */
  readonly versions: string[];
  /** The key that the place gives each row; `undefined` where rows have keys of their own. */
  readonly keys: unknown[] | undefined;
  /** Where each row stands, counted from 1. */
  readonly lines: number[];
  readonly leftOut: LeftOutRow[];
}

/** So many milliseconds without a pause at most: a page stays alive meanwhile. */
const AT_ONCE = 30;
/** How often it is looked how late it is, in rows. */
const LOOK = 1_000;

/**
 * Reads all rows of a place. It holds lists, and no object for each of a million rows: those would be there beside the rows until the last
 * is read.
 *
 * @throws what the store throws; the signal's reason when it is aborted
 */
export async function readPlace<M extends AnyModel>(
  { parts }: M,
  store: ChangeableStore<RowOf<M>, KeyOf<M>>,
  progress: ((done: number | undefined, rows: number) => void) | undefined,
  signal: AbortSignalLike | undefined,
): Promise<PlaceRead<M>> {
  const keys: unknown[] | undefined = parts.key.length === 0 ? [] : undefined;
  const read: PlaceRead<M> = { rows: [], versions: [], keys, lines: [], leftOut: [] };
  let since = platform.now();
  let looked = 0;
  for await (const page of pagesOf(store, signal)) {
    if (signal?.aborted === true) throw signal.reason;
    for (const each of page)
      if (each.ok) {
        read.rows.push(each.row);
        read.versions.push(each.version!);
        read.lines.push(each.line);
        keys?.push(each.key);
      } else read.leftOut.push({ line: each.line, problems: each.problems });
    const done = read.rows.length + read.leftOut.length;
    if (done - looked < LOOK) continue;
    looked = done;
    if (platform.now() - since < AT_ONCE) continue;
    progress?.(undefined, read.rows.length);
    await new Promise<void>((go) => void platform.after(0, go));
    since = platform.now();
  }
  return read;
}

/** All rows that were read, as news of their place. */
export function newsOf<M extends AnyModel>(model: M, { rows, versions, keys }: PlaceRead<M>): News<M>[] {
  return rows.map((row, index) => {
    const key = keys === undefined ? keyIn(model, row) : keys[index];
    return { key, now: { key, version: versions[index]!, row } };
  });
}

type ReadRow<M extends AnyModel> = StoredRow<RowOf<M>> & {
  readonly key?: KeyOf<M> | undefined;
  readonly version?: string | undefined;
};

/** The rows of a place, as many at once as it gives. */
async function* pagesOf<M extends AnyModel>(
  store: ChangeableStore<RowOf<M>, KeyOf<M>>,
  signal: AbortSignalLike | undefined,
): AsyncIterable<readonly ReadRow<M>[]> {
  if (store.readPages !== undefined) yield* store.readPages({ signal });
  else for await (const each of store.read({ signal })) yield [each];
}
