/** The latest changes of a table, for the views over it: each reads on from where it stood. */
export class ChangeLog<Row> {
  #slots: number[] = [];
  #befores: (Row | undefined)[] = [];
  /** The number of the first change that is still kept. */
  #start = 0;

  /** The number that the next change will have. */
  get end(): number {
    return this.#start + this.#slots.length;
  }

  /**
   * @param kept - how many changes are worth keeping: whoever is further behind has less work from the beginning
   */
  add(slot: number, before: Row | undefined, kept: number): void {
    this.#slots.push(slot);
    this.#befores.push(before);
    if (this.#slots.length < 2 * kept) return;
    const dropped = this.#slots.length - kept;
    this.#slots = this.#slots.slice(dropped);
    this.#befores = this.#befores.slice(dropped);
    this.#start += dropped;
  }

  /** Forgets all: whoever reads on has to begin anew. */
  clear(): void {
    this.#start = this.end + 1;
    this.#slots = [];
    this.#befores = [];
  }

  /** What each slot held at a number that has changed since; `undefined` when that is too long ago to tell. */
  since(number: number): Map<number, Row | undefined> | undefined {
    if (number < this.#start) return undefined;
    const befores = new Map<number, Row | undefined>();
    for (let place = number - this.#start; place < this.#slots.length; place++)
      if (!befores.has(this.#slots[place]!)) befores.set(this.#slots[place]!, this.#befores[place]);
    return befores;
  }
}
