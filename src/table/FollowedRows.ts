import { isReadNow, Value } from "../engine/index.ts";
import type { LookUp } from "./KeyIndex.ts";

const FEWEST = 64;

/** The rows that are followed one by one: a follower that reads one row runs again only when that row changes. */
export class FollowedRows {
  readonly #cells = new Map<LookUp, Value<number>>();
  /** At so many it is looked which of them are followed. */
  #limit = FEWEST;

  /** Has what runs depend on the row with a key, whether it is there or not. */
  read(key: LookUp): void {
    let cell = this.#cells.get(key);
    if (cell === undefined) {
      if (this.#cells.size >= this.#limit) this.#dropUnfollowed();
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

  /** What nobody follows is not kept. Who has read it without following it, as a view that nobody shows, has to read it again. */
  #dropUnfollowed(): void {
    for (const [key, cell] of this.#cells)
      if (cell.firstTarget === undefined && !isReadNow(cell)) {
        this.#cells.delete(key);
        bumpVersion(cell);
      }
    this.#limit = Math.max(FEWEST, 2 * this.#cells.size);
  }
}

/** The table takes its own writes back, so they are not recorded in the journal. */
export const bumpVersion = (version: Value<number>): void => void version.restore(version.peek() + 1);
