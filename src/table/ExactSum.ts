/** From here on a number is added apart and in units of {@link UNIT}, so that a sum that grows beyond all numbers can come back. */
const LARGE = 2 ** 960;
const UNIT = 2 ** 200;

/**
 * A sum of numbers to which can be added and from which can be taken away without an error: what it gives is the exact sum,
 * rounded once, whatever came in which order. It is kept as parts that do not overlap (J. R. Shewchuk, 1997).
 */
export class ExactSum {
  #parts: number[] = [];
  #large: ExactSum | undefined;

  add(value: number): void {
    if (Math.abs(value) >= LARGE) {
      this.#large ??= new ExactSum();
      return this.#large.add(value / UNIT);
    }
    let x = value;
    let kept = 0;
    for (const part of this.#parts) {
      const [larger, smaller] = Math.abs(x) < Math.abs(part) ? [part, x] : [x, part];
      const sum = larger + smaller;
      const lost = smaller - (sum - larger);
      if (lost !== 0) this.#parts[kept++] = lost;
      x = sum;
    }
    this.#parts.length = kept;
    if (x !== 0) this.#parts.push(x);
  }

  take(value: number): void {
    this.add(-value);
  }

  get value(): number {
    const large = this.#large?.value ?? 0;
    return large === 0 ? this.#small : large * UNIT + this.#small;
  }

  get #small(): number {
    const parts = this.#parts;
    let index = parts.length;
    if (index === 0) return 0;
    let sum = parts[--index]!;
    let lost = 0;
    while (index > 0) {
      const before = sum;
      const part = parts[--index]!;
      sum = before + part;
      lost = part - (sum - before);
      if (lost !== 0) break;
    }
    // Half way between two numbers, the parts below decide which way it is rounded.
    if (index > 0 && ((lost < 0 && parts[index - 1]! < 0) || (lost > 0 && parts[index - 1]! > 0))) {
      const twice = lost * 2;
      const next = sum + twice;
      if (twice === next - sum) sum = next;
    }
    return sum;
  }
}
