import { Value } from "../engine/index.ts";
import type { LookUp } from "./KeyIndex.ts";

/** The rows that are followed one by one: a follower that reads one row runs again only when that row changes. */
export class FollowedRows {
  readonly #cells = new Map<LookUp, Value<number>>();

  /** Has what runs depend on the row with a key, whether it is there or not. */
  read(key: LookUp): void {
    let cell = this.#cells.get(key);
    if (cell === undefined) {
      this.#dropUnfollowed();
      cell = new Value(0);
      this.#cells.set(key, cell);
    }
    cell.read();
  }

  get any(): boolean {
    return this.#cells.size > 0;
  }

  tell(key: LookUp): void {
    const cell = this.#cells.get(key);
    if (cell !== undefined) bumpVersion(cell);
  }

  tellAll(): void {
    for (const cell of this.#cells.values()) bumpVersion(cell);
  }

  /** What nobody follows any more is not kept. */
  #dropUnfollowed(): void {
    if (this.#cells.size < 64 || (this.#cells.size & (this.#cells.size - 1)) !== 0) return;
    for (const [key, cell] of this.#cells) if (cell.firstTarget === undefined) this.#cells.delete(key);
  }
}

/** The table takes its own writes back, so they are not recorded in the journal. */
export const bumpVersion = (version: Value<number>): void => void version.restore(version.peek() + 1);
