import { type AbortSignalLike, platform } from "../engine/index.ts";
import type { AnyModel, KeyOf, RowOf } from "../model/index.ts";
import type { LeftOutRow } from "./Kept.ts";
import type { ChangeableStore } from "./Store.ts";
import type { AtPlace } from "./Unsaved.ts";

/** All rows of a place: those that can be read, where each is there, and what is wrong with the others. */
export interface PlaceRead<M extends AnyModel> {
  readonly rows: RowOf<M>[];
  readonly at: AtPlace[];
  /** Where each row stands, counted from 1. */
  readonly lines: number[];
  readonly leftOut: LeftOutRow[];
}

/** So many milliseconds without a pause at most: a page stays alive meanwhile. */
const AT_ONCE = 30;
/** How often it is looked how late it is, in rows. */
const LOOK = 1_000;

/** Reads all rows of a place. @throws what the store throws; the signal's reason when it is aborted */
export async function readPlace<M extends AnyModel>(
  store: ChangeableStore<RowOf<M>, KeyOf<M>>,
  progress: ((done: number | undefined, rows: number) => void) | undefined,
  signal: AbortSignalLike | undefined,
): Promise<PlaceRead<M>> {
  const read: PlaceRead<M> = { rows: [], at: [], lines: [], leftOut: [] };
  const { rows, at, lines, leftOut } = read;
  let since = platform.now();
  for await (const each of store.read({ signal })) {
    if (signal?.aborted === true) throw signal.reason;
    if (each.ok) {
      rows.push(each.row);
      at.push({ key: each.key, version: each.version! });
      lines.push(each.line);
    } else leftOut.push({ line: each.line, problems: each.problems });
    if ((rows.length + leftOut.length) % LOOK !== 0 || platform.now() - since < AT_ONCE) continue;
    progress?.(undefined, rows.length);
    await new Promise<void>((go) => void platform.after(0, go));
    since = platform.now();
  }
  return read;
}
