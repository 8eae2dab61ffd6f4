import { Calculation } from "../engine/index.ts";
import { type AnyKind, newReader, type Otherwise, runOverRow } from "../model/index.ts";
import type { EntryCore } from "./EntryCore.ts";

/** What others propose for a field, and which fields that is made from. */
export class Proposal {
  readonly #value: Calculation<unknown>;
  readonly #reads = new Set<string>();
  /** Whether it is being worked out: two fields that propose each other end here, and not in a ring. */
  running = false;

  constructor(work: (row: never) => unknown, name: string, kind: AnyKind, entry: EntryCore) {
    const reader = newReader(entry.model, (read) => {
      this.#reads.add(read);
      return entry.readForRule(read);
    });
    this.#value = new Calculation(
      () => this.#worked(work, reader, name, kind),
      `what is proposed for ${name}`,
      (a, b) => kind.same(a, b),
    );
  }

  get value(): unknown {
    return this.#value.read();
  }

  /** Has what runs depend on it. */
  noteRead(): void {
    this.#value.read();
  }

  /** Whether it is made from a field. */
  reads(name: string): boolean {
    this.#value.read();
    return this.#reads.has(name);
  }

  #worked(work: (row: never) => unknown, reader: object, name: string, kind: AnyKind): unknown {
    this.running = true;
    try {
      const value = runOverRow(work, reader, name, notProposed);
      return value !== undefined && value !== null && kind.belongs(value) ? value : kind.empty;
    } finally {
      this.running = false;
    }
  }
}

const notProposed: Otherwise<unknown> = {
  blank: undefined,
  broken: undefined,
  code: "calculationFailed",
  what: "What is proposed for",
};
