import { unitNow } from "../engine/index.ts";

/** Rows of several tables that belong together, since one change has touched them: all of them are written, or none. */
export class WriteGroup {
  /** The group into which this one has gone. */
  #into: WriteGroup | undefined;

  /** The group as it is now. */
  get now(): WriteGroup {
    if (this.#into === undefined) return this;
    this.#into = this.#into.now;
    return this.#into;
  }

  /** Two groups that share a row are one. @returns that one */
  with(other: WriteGroup | undefined): WriteGroup {
    const own = this.now;
    const others = other?.now;
    if (others !== undefined && others !== own) others.#into = own;
    return own;
  }
}

/** Gives the rows that one change touches one group. */
export class WriteGroups {
  #unit: number | undefined;
  #group = new WriteGroup();

  /** The group of the change that is being made, or was made just now. */
  get ofChange(): WriteGroup {
    const unit = unitNow();
    if (unit !== this.#unit) this.#group = new WriteGroup();
    this.#unit = unit;
    return this.#group;
  }
}
