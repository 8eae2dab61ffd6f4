/** Which of two slots comes first: negative for the first. Never 0 for two different ones. */
export type CompareSlots = (a: number, b: number) => number;

/** So many slots at most are in one block: small enough to be moved in a moment, large enough for few blocks. */
const FULL = 1024;

/**
 * Slots in an order, in blocks: one is found by halving, first among the blocks and then in one; to put one in or take
 * one out moves at most a block. A million slots are four million bytes and a bit.
 */
export class OrderedSlots {
  #blocks: Uint32Array[] = [];
  #counts: number[] = [];
  #size = 0;

  get size(): number {
    return this.#size;
  }

  /** Begins anew with slots that are in order already. */
  fill(slots: Uint32Array, count: number): void {
    this.#blocks = [];
    this.#counts = [];
    this.#size = count;
    // Not quite full, so that the first that is put in does not part every block.
    const each = Math.floor(FULL * 0.9);
    for (let from = 0; from < count; from += each) {
      const own = Math.min(each, count - from);
      const block = new Uint32Array(FULL);
      block.set(slots.subarray(from, from + own));
      this.#blocks.push(block);
      this.#counts.push(own);
    }
  }

  /** The slot at a place; `undefined` past the end. */
  at(place: number): number | undefined {
    let left = place;
    for (let index = 0; index < this.#counts.length; index++) {
      const count = this.#counts[index]!;
      if (left < count) return left < 0 ? undefined : this.#blocks[index]![left];
      left -= count;
    }
    return undefined;
  }

  /** The place of a slot; -1 when it is not there. */
  placeOf(slot: number, compare: CompareSlots): number {
    const index = this.#blockFor(slot, compare);
    if (index < 0) return -1;
    const offset = this.#offsetIn(index, slot, compare);
    if (offset >= this.#counts[index]! || this.#blocks[index]![offset] !== slot) return -1;
    let before = 0;
    for (let each = 0; each < index; each++) before += this.#counts[each]!;
    return before + offset;
  }

  /** The place that a slot which is not there would have. */
  placeFor(slot: number, compare: CompareSlots): number {
    const index = this.#blockFor(slot, compare);
    if (index < 0) return this.#size;
    let before = 0;
    for (let each = 0; each < index; each++) before += this.#counts[each]!;
    return before + this.#offsetIn(index, slot, compare);
  }

  add(slot: number, compare: CompareSlots): void {
    let index = this.#blockFor(slot, compare);
    if (index < 0) {
      if (this.#blocks.length === 0) {
        this.#blocks.push(new Uint32Array(FULL));
        this.#counts.push(0);
      }
      index = this.#blocks.length - 1;
    }
    if (this.#counts[index] === FULL) index = this.#part(index, slot, compare);
    const offset = this.#offsetIn(index, slot, compare);
    const block = this.#blocks[index]!;
    block.copyWithin(offset + 1, offset, this.#counts[index]);
    block[offset] = slot;
    this.#counts[index]!++;
    this.#size++;
  }

  /** @returns whether it was there */
  remove(slot: number, compare: CompareSlots): boolean {
    const index = this.#blockFor(slot, compare);
    if (index < 0) return false;
    const offset = this.#offsetIn(index, slot, compare);
    const block = this.#blocks[index]!;
    const count = this.#counts[index]!;
    if (offset >= count || block[offset] !== slot) return false;
    block.copyWithin(offset, offset + 1, count);
    this.#size--;
    this.#counts[index] = count - 1;
    if (count === 1) {
      this.#blocks.splice(index, 1);
      this.#counts.splice(index, 1);
    }
    return true;
  }

  /** Writes those that are in a set of bits into a list, in order. @returns how many */
  filter(bits: Uint8Array, into: Uint32Array): number {
    let found = 0;
    for (let index = 0; index < this.#blocks.length; index++) {
      const block = this.#blocks[index]!;
      const count = this.#counts[index]!;
      for (let offset = 0; offset < count; offset++) {
        const slot = block[offset]!;
        if (((bits[slot >> 3] ?? 0) & (1 << (slot & 7))) !== 0) into[found++] = slot;
      }
    }
    return found;
  }

  /** Faster than iterating, for all of a million. */
  forEach(work: (slot: number) => void): void {
    for (let index = 0; index < this.#blocks.length; index++) {
      const block = this.#blocks[index]!;
      const count = this.#counts[index]!;
      for (let offset = 0; offset < count; offset++) work(block[offset]!);
    }
  }

  *[Symbol.iterator](): Iterator<number> {
    for (let index = 0; index < this.#blocks.length; index++)
      for (let offset = 0; offset < this.#counts[index]!; offset++) yield this.#blocks[index]![offset]!;
  }

  /** The slots from one place up to, and without, another. */
  between(from: number, to: number): number[] {
    const slots: number[] = [];
    let before = 0;
    for (let index = 0; index < this.#counts.length && before < to; index++) {
      const count = this.#counts[index]!;
      const end = Math.min(count, to - before);
      for (let offset = Math.max(0, from - before); offset < end; offset++) slots.push(this.#blocks[index]![offset]!);
      before += count;
    }
    return slots;
  }

  /** The first block whose last slot does not come before this one; -1 when all do. */
  #blockFor(slot: number, compare: CompareSlots): number {
    let low = 0;
    let high = this.#blocks.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      const last = this.#blocks[middle]![this.#counts[middle]! - 1]!;
      if (last !== slot && compare(last, slot) < 0) low = middle + 1;
      else high = middle;
    }
    return low === this.#blocks.length ? -1 : low;
  }

  #offsetIn(index: number, slot: number, compare: CompareSlots): number {
    const block = this.#blocks[index]!;
    let low = 0;
    let high = this.#counts[index]!;
    while (low < high) {
      const middle = (low + high) >> 1;
      const each = block[middle]!;
      if (each !== slot && compare(each, slot) < 0) low = middle + 1;
      else high = middle;
    }
    return low;
  }

  /** Parts a full block in two. @returns the one that the slot belongs into */
  #part(index: number, slot: number, compare: CompareSlots): number {
    const block = this.#blocks[index]!;
    const half = FULL >> 1;
    const second = new Uint32Array(FULL);
    second.set(block.subarray(half));
    this.#blocks.splice(index + 1, 0, second);
    this.#counts.splice(index, 1, half, FULL - half);
    return compare(block[half - 1]!, slot) < 0 ? index + 1 : index;
  }
}
