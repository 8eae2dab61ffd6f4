/** How many bits of a byte are set. */
const ONES = Uint8Array.from({ length: 256 }, (_, byte) => byte.toString(2).replaceAll("0", "").length);

/** A set of slots of a table: one bit for each. */
export class SlotSet {
  #bits: Uint8Array;
  size = 0;

  /** @param bits - one bit for each slot, the lowest of a byte first; they are its own from now on */
  constructor(bits = new Uint8Array(1)) {
    this.#bits = bits;
    for (const byte of bits) this.size += ONES[byte]!;
  }

  static of(slots: Iterable<number>): SlotSet {
    const set = new SlotSet();
    for (const slot of slots) if (!set.has(slot)) set.add(slot);
    return set;
  }

  copy(): SlotSet {
    return new SlotSet(this.#bits.slice());
  }

  /** Those that are in another set too. */
  within({ bits: other }: SlotSet): SlotSet {
    return new SlotSet(this.#bits.map((byte, place) => byte & (other[place] ?? 0)));
  }

  *[Symbol.iterator](): Iterator<number> {
    for (const [place, byte] of this.#bits.entries())
      for (let bit = 0; byte >> bit !== 0; bit++) if (((byte >> bit) & 1) !== 0) yield 8 * place + bit;
  }

  get bits(): Uint8Array {
    return this.#bits;
  }

  has(slot: number): boolean {
    return ((this.#bits[slot >> 3] ?? 0) & (1 << (slot & 7))) !== 0;
  }

  /** Adds one that is not in it. */
  add(slot: number): void {
    const byte = slot >> 3;
    if (byte >= this.#bits.length) {
      const more = new Uint8Array(byte + (byte >> 1) + 16);
      more.set(this.#bits);
      this.#bits = more;
    }
    this.#bits[byte]! |= 1 << (slot & 7);
    this.size++;
  }

  /** Takes one out that is in it. */
  delete(slot: number): void {
    this.#bits[slot >> 3]! &= ~(1 << (slot & 7));
    this.size--;
  }

  /** Has the first so many, and no others. */
  fill(slots: number): void {
    this.#bits = new Uint8Array((slots >> 3) + 1).fill(0xff);
    // The rows to come are not in it yet.
    this.#bits[slots >> 3] = (1 << (slots & 7)) - 1;
    this.size = slots;
  }
}
