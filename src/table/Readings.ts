import { Calculation, collectReads, readAgain, type Source, untracked } from "../engine/index.ts";

/**
 * What was read beside the rows for something that is kept, as the sums of a field that is calculated with the rows of another table. Who
 * keeps it looks before each use whether that is current, and begins anew with other readings where it is not.
 */
export class Readings {
  readonly #sources = new Set<Source>();
  /** There is none as long as nothing was read: the usual case. */
  #watch: Calculation<boolean> | undefined;
  #hasChanged = false;

  /** Runs work for what is kept. What it reads is not noted as read by what is being evaluated; that has to be told by `track`. */
  run<T>(work: () => T): T {
    const before = this.#sources.size;
    try {
      return collectReads(work, this.#sources);
    } finally {
      if (this.#sources.size > before) this.#watchAll();
    }
  }

  #watchAll(): void {
    // A change that nobody has looked for yet is not forgotten.
    untracked(() => this.#watch?.read());
    let isFirst = true;
    const watch = new Calculation(
      () => {
        if (!isFirst) this.#hasChanged = true;
        isFirst = false;
        if (!this.#hasChanged) for (const source of this.#sources) readAgain(source);
        return !this.#hasChanged;
      },
      { sort: "other", of: "what is calculated" },
    );
    untracked(() => watch.read());
    this.#watch = watch;
  }

  /** Has what is being evaluated depend on what was read. */
  track(): void {
    this.#watch?.read();
  }

  /** Whether nothing that was read has changed since; followed. */
  get areCurrent(): boolean {
    return this.#watch === undefined || this.#watch.read();
  }
}
