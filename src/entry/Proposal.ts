import { Calculation, type Source, sourcesOf, type Target } from "../engine/index.ts";
import { type AnyKind, type AnyModel, newReader, type Otherwise, runOverRow } from "../model/index.ts";

/** A row as rules and calculations read it. */
export interface ReadRow {
  readonly model: AnyModel;
  readForRule(name: string): unknown;
}

/** What others propose for a field, and which fields that is made from. */
export class Proposal {
  readonly #value: Calculation<unknown>;
  /** What was read when it was last worked out. */
  #reads: ReadonlySet<string> = new Set();
  /** Whether it is being worked out: two fields that propose each other end here, and not in a ring. */
  running = false;

  constructor(work: (row: never) => unknown, name: string, kind: AnyKind, row: ReadRow) {
    this.#value = new Calculation(
      () => this.#worked(work, name, kind, row),
      { sort: "proposal", of: name },
      (a, b) => kind.same(a, b),
    );
  }

  get value(): unknown {
    return this.#value.read();
  }

  /** Has what runs depend on it. */
  track(): void {
    this.#value.read();
  }

  /** Whether it is made from the content of a field as of now, also by way of others that follow that field. */
  isMadeFrom(source: Source): boolean {
    this.#value.read();
    const seen = new Set<Source>([this.#value]);
    for (const each of seen) for (const read of sourcesOf(each as Target)) seen.add(read);
    return seen.has(source);
  }

  /** Whether it is made from a field as of now. */
  reads(name: string): boolean {
    this.#value.read();
    return this.#reads.has(name);
  }

  #worked(work: (row: never) => unknown, name: string, kind: AnyKind, row: ReadRow): unknown {
    const reads = new Set<string>();
    const reader = newReader(row.model, (read) => {
      reads.add(read);
      return row.readForRule(read);
    });
    this.running = true;
    try {
      const value = runOverRow(work, reader, name, notProposed);
      return value !== undefined && value !== null && kind.belongs(value) ? value : kind.empty;
    } finally {
      this.#reads = reads;
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
