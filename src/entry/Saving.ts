import { isPromise, platform, type AbortSignalLike, type SignalController, type Soon, Value } from "../engine/index.ts";
import type { Problem } from "../model/index.ts";
import type { Asking } from "./Asking.ts";
import type { NamedValues } from "./Baseline.ts";
import type { Entered } from "./Entered.ts";
import type { OpenParts } from "./OpenParts.ts";
import { notSaved, refusedBy, type SaveAnswer } from "./saveMessages.ts";

/** What a save came to. `said` is for the status line. */
export type SaveResult<Row> =
  | { readonly ok: true; readonly row: Row; readonly said: string }
  | { readonly ok: false; readonly problems: readonly Problem[] };

/** A row as it was when it passed the checks, and what the fields held then. */
export interface FixedRow<Row> {
  readonly row: Row;
  /** The same by the full names of its fields. */
  readonly values: NamedValues;
  readonly entered: ReadonlyMap<unknown, Entered>;
}

/** What is saved. */
export interface Savable<Row> {
  readonly locale: string;
  /** Whether nothing is an error. */
  readonly valid: boolean;
  readonly problems: readonly Problem[];
  /** Whether there is something to write. */
  readonly isUnwritten: boolean;
  /** Why it may not be written now, or that there is nowhere to write it; `undefined` where it may be. */
  readonly refusal: Problem | undefined;
  readonly parts: OpenParts;
  readonly asking: Asking;
  /** Tidies texts, gives blanked fields their defaults back, and forgets what was refused before. */
  tidy(): void;
  /** Makes every problem visible. */
  showAll(): void;
  fix(): FixedRow<Row>;
  write(row: Row, context: { readonly signal: AbortSignalLike }): SaveAnswer | Promise<SaveAnswer>;
  /** The row was refused where it is kept. */
  refused(problems: readonly Problem[]): void;
  /** The row is where it belongs. */
  written(fixed: FixedRow<Row>): void;
  /** What the status line is told. */
  said(row: Row, answer: SaveAnswer): string;
}

type Phase = "idle" | "checking" | "writing";

/**
 * The one way to save an entry, whoever begins it: a press, a command, code, or leaving. It goes from `idle` by `checking` to `writing`.
 * What is written is what was checked: one row, at one moment, about which every rule that asks has answered. Where nothing has to be
 * waited for, all is done at once.
 */
export class Saving<Row> {
  readonly #phase = new Value<Phase>("idle");
  /** How many checks and saves are being waited for. */
  #waiting = 0;
  #running: Promise<SaveResult<Row>> | undefined;
  #abort: SignalController | undefined;
  /** Which row is edited: what a save of one before comes to is not of this one. */
  #generation = 0;
  readonly #of: Savable<Row>;

  constructor(of: Savable<Row>) {
    this.#of = of;
  }

  /** Whether a check or a save is under way; followed. */
  get busy(): boolean {
    return this.#phase.read() !== "idle";
  }

  /** Another row is edited from now on. */
  beginRow(): void {
    this.#generation++;
  }

  /** Makes every problem visible and waits for the rules that ask elsewhere. @returns what is wrong, inside too */
  async check(): Promise<readonly Problem[]> {
    const inside = this.#of.parts.commit();
    // What is wrong by itself is visible at once; only what has to be asked about is waited for.
    this.#of.showAll();
    const found = isPromise(inside) ? await this.#busyWhile(inside) : inside;
    if (this.#of.valid && this.#of.asking.pending() !== undefined) await this.#busyWhile(this.#answered(undefined));
    return found.length === 0 ? this.#of.problems : [...found, ...this.#of.problems];
  }

  /** Saves. While a save is under way, it gives that save's promise. */
  save(): Promise<SaveResult<Row>> {
    this.#running ??= this.#inOneTurn().finally(() => {
      this.#running = undefined;
    });
    return this.#running;
  }

  /** What fails at once is told by the promise too. */
  async #inOneTurn(): Promise<SaveResult<Row>> {
    return this.#start(false);
  }

  /** Saves what was changed, as when the row is left: at once where nothing has to be asked. What was not changed is left as it is. */
  commit(): Soon<SaveResult<Row>> {
    if (this.#running !== undefined) return this.#running;
    const result = this.#start(true);
    if (!isPromise(result)) return result;
    this.#running = result.finally(() => {
      this.#running = undefined;
    });
    return this.#running;
  }

  #start(leaving: boolean): Soon<SaveResult<Row>> {
    this.#abort = platform.newController();
    const result = this.#run(this.#abort.signal, leaving);
    return isPromise(result) ? this.#busyWhile(result) : result;
  }

  async #busyWhile<T>(work: Promise<T>): Promise<T> {
    this.#waiting++;
    if (this.#phase.peek() === "idle") this.#phase.write("checking");
    try {
      return await work;
    } finally {
      if (--this.#waiting === 0) this.#phase.write("idle");
    }
  }

  #run(signal: AbortSignalLike, leaving: boolean): Soon<SaveResult<Row>> {
    const inside = this.#of.parts.commit();
    return isPromise(inside)
      ? inside.then((found) => this.#checkAndWrite(found, signal, leaving))
      : this.#checkAndWrite(inside, signal, leaving);
  }

  #checkAndWrite(inside: readonly Problem[], signal: AbortSignalLike, leaving: boolean): Soon<SaveResult<Row>> {
    const of = this.#of;
    of.tidy();
    if (inside.length === 0 && leaving && !of.isUnwritten) return { ok: true, row: of.fix().row, said: "" };
    of.showAll();
    if (inside.length > 0) return { ok: false, problems: [...inside, ...of.problems] };
    return this.#writeOnceAnswered(signal);
  }

  /** Whether it is valid is asked before what is pending: by that, a rule may turn out to ask. */
  #writeOnceAnswered(signal: AbortSignalLike): Soon<SaveResult<Row>> {
    const of = this.#of;
    if (of.valid && of.asking.pending() !== undefined)
      // Between the last answer and the next turn something may be changed, so it is looked at again.
      return this.#answered(signal).then(
        () => this.#writeOnceAnswered(signal),
        (reason: unknown) => this.#failed(reason),
      );
    if (signal.aborted) return this.#failed(signal.reason);
    return of.valid ? this.#write(signal) : { ok: false, problems: of.problems };
  }

  /** Waits until all rules that ask have answered about what is there, also when that changes meanwhile. */
  async #answered(signal: AbortSignalLike | undefined): Promise<void> {
    while (this.#of.valid && signal?.aborted !== true) {
      const pending = this.#of.asking.pending();
      if (pending === undefined) return;
      await pending;
    }
  }

  #write(signal: AbortSignalLike): Soon<SaveResult<Row>> {
    const of = this.#of;
    const fixed = of.fix();
    if (!of.isUnwritten) return { ok: true, row: fixed.row, said: of.said(fixed.row, undefined) };
    const { refusal } = of;
    if (refusal !== undefined) return { ok: false, problems: [refusal] };
    const generation = this.#generation;
    try {
      const answer = of.write(fixed.row, { signal });
      if (!isPromise(answer)) return this.#written(fixed, answer, generation);
      this.#phase.write("writing");
      return Promise.resolve(answer).then(
        (late) => this.#written(fixed, late, generation),
        (reason: unknown) => this.#failed(reason),
      );
    } catch (reason) {
      return this.#failed(reason);
    }
  }

  #written(fixed: FixedRow<Row>, answer: SaveAnswer, generation: number): SaveResult<Row> {
    const of = this.#of;
    const isSameRow = generation === this.#generation;
    const refused = refusedBy(answer);
    if (refused !== undefined) {
      if (isSameRow) of.refused(refused);
      return { ok: false, problems: refused };
    }
    if (isSameRow) of.written(fixed);
    return { ok: true, row: fixed.row, said: of.said(fixed.row, answer) };
  }

  #failed(reason: unknown): SaveResult<Row> {
    return { ok: false, problems: [notSaved(reason, this.#of.locale)] };
  }

  /** Aborts what is under way. */
  stop(): void {
    this.#abort?.abort();
  }
}
