import { IronwoodError } from "../errors/index.ts";

/** Of a long ring, so many names at its start and at its end are told. */
const TOLD = 6;

/**
 * Calculations that read each other in a ring. The names are gathered while the error passes through them on its way
 * out, which costs nothing as long as there is no ring.
 */
export class RingError extends IronwoodError {
  readonly #path: string[] = [];
  #closed = false;
  readonly #start: object;

  /** @param start - the calculation that was read while it was being evaluated */
  constructor(start: object) {
    super("ring", "Calculations read each other in a ring");
    this.#start = start;
  }

  /** Notes that the error has come to `calculation`; the ring is complete when that is where it began. */
  passes(calculation: object, name: string): void {
    if (this.#closed) return;
    this.#path.unshift(name);
    if (calculation !== this.#start) return;
    this.#closed = true;
    const path = this.#path;
    const shortened = path.length > 2 * TOLD ? [...path.slice(0, TOLD), "…", ...path.slice(-TOLD)] : path;
    this.message = `Calculations read each other in a ring: ${[...shortened, name].join(" → ")}. Right would be calculations that can be put in an order.`;
  }
}
