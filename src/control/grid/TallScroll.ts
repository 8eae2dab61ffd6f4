/** How high an element may be in every browser, in CSS pixels; beyond it, the least of them shows it cut off. */
const HIGHEST = 8_000_000;

/**
 * Where rows are that would be higher together than an element can be. What is scrolled by less than a window moves the
 * rows by just as much; a jump, as with the scroll bar, goes to the same part of the whole. Without so many rows the two are one.
 */
export class TallScroll {
  #rows = 0;
  #height = 1;
  #window = 1;
  /** How far the rows are scrolled, as if there was no limit. */
  #top = 0;
  /** What the element was scrolled to when that was found out. */
  #seen = 0;

  /**
   * @param height - of one row; @param window - of what is seen of the rows; both in CSS pixels
   * @param above - how many rows came above what is seen since then; negative where some went
   * @returns what the element has to be scrolled to for the same rows to be seen, where rows came above or have another height now
   */
  measure(rows: number, height: number, window: number, above = 0): number | undefined {
    const top = (this.#top / this.#height + above) * height;
    const isMoved = above !== 0 || height !== this.#height;
    this.#rows = rows;
    this.#height = height;
    this.#window = window;
    if (isMoved) return this.#offsetFor(top);
    this.#top = Math.min(this.#top, this.#most);
    return undefined;
  }

  /** How high the element is that holds the rows. */
  get height(): number {
    return Math.min(HIGHEST, this.#whole);
  }

  get #whole(): number {
    return this.#rows * this.#height;
  }

  get #most(): number {
    return Math.max(0, this.#whole - this.#window);
  }

  get #mostSeen(): number {
    return Math.max(0, this.height - this.#window);
  }

  /** The element was scrolled. @param seen - its scroll offset */
  scrolled(seen: number): void {
    const by = seen - this.#seen;
    this.#seen = seen;
    if (this.#whole <= HIGHEST) this.#top = seen;
    else if (seen <= 0) this.#top = 0;
    else if (seen >= this.#mostSeen - 1) this.#top = this.#most;
    else if (Math.abs(by) < this.#window) this.#top = Math.min(this.#most, Math.max(0, this.#top + by));
    else this.#top = (seen / this.#mostSeen) * this.#most;
  }

  /** What the element has to be scrolled to for a row to be seen; where it is seen already, what it is scrolled to. */
  offsetFor(row: number): number {
    const start = row * this.#height;
    const end = start + this.#height;
    // As little as is needed: up to its start, down to its end, or not at all.
    const wanted = Math.min(start, Math.max(this.#top, end - this.#window));
    return wanted === this.#top ? this.#seen : this.#offsetFor(wanted);
  }

  #offsetFor(wanted: number): number {
    const top = Math.min(this.#most, Math.max(0, wanted));
    const by = top - this.#top;
    this.#top = top;
    if (this.#whole <= HIGHEST) this.#seen = top;
    else if (top === 0) this.#seen = 0;
    else if (top === this.#most) this.#seen = this.#mostSeen;
    else if (Math.abs(by) < this.#window) this.#seen = Math.min(this.#mostSeen - 2, Math.max(1, this.#seen + by));
    else this.#seen = Math.min(this.#mostSeen - 2, Math.max(1, (top / this.#most) * this.#mostSeen));
    return this.#seen;
  }

  /** The rows to have ready, with some more at each end: from one up to, and without, another. */
  range(more: number): readonly [from: number, to: number] {
    const first = Math.floor(this.#top / this.#height);
    const last = Math.ceil((this.#top + this.#window) / this.#height);
    return [Math.max(0, first - more), Math.min(this.#rows, last + more)];
  }

  /** Whether any of a row is seen. */
  sees(row: number): boolean {
    return (row + 1) * this.#height > this.#top && row * this.#height < this.#top + this.#window;
  }

  /** Where a row is in the element. What hangs over the last row, as an open list does, can be scrolled to and moves no row. */
  placeOf(row: number): number {
    return Math.max(0, Math.min(this.#seen, this.#mostSeen) - this.#top + row * this.#height);
  }

  /** How many whole rows are seen. */
  get page(): number {
    return Math.max(1, Math.floor(this.#window / this.#height) - 1);
  }
}
