import { RowChecker } from "../check/index.ts";
import { Readings } from "./Readings.ts";
import type { AnyModel, Problem, RowOf } from "../model/index.ts";

/** What is wrong with the rows of a table, each by itself: what its model says, and the place where it is kept. Each row is checked once. */
export class RowProblems<M extends AnyModel> {
  readonly #model: M;
  readonly #timeZone: string;
  #checker: RowChecker;
  #problems = new WeakMap<object, readonly Problem[]>();
  #readings = new Readings();
  /** What the place where the rows are kept says of them, by the very row: it is gone when the row is another. */
  readonly #ofPlace = new WeakMap<object, readonly Problem[]>();

  constructor(model: M, locale: string, timeZone: string) {
    this.#model = model;
    this.#timeZone = timeZone;
    this.#checker = new RowChecker(model, locale, timeZone);
  }

  /** Says problems in another language from now on. */
  speak(locale: string): void {
    this.#checker = new RowChecker(this.#model, locale, this.#timeZone);
    this.#forget();
  }

  #forget(): void {
    this.#problems = new WeakMap();
    this.#readings = new Readings();
  }

  of(row: RowOf<M>): readonly Problem[] {
    // A rule may read rows of other tables: then what was found is right as long as these are as they were.
    if (!this.#readings.areCurrent) this.#forget();
    let problems = this.#problems.get(row);
    if (problems === undefined) {
      const readings = this.#readings;
      const own = readings.run(() => this.#checker.check(row));
      const said = this.#ofPlace.get(row);
      problems = said === undefined ? own : [...own, ...said];
      // A rule may itself ask for the problems of other rows, and find that all begins anew.
      if (readings === this.#readings) this.#problems.set(row, problems);
      readings.track();
    }
    return problems;
  }

  /** The errors of a row that it did not have before: an old one, as of a row that was loaded, is no reason to refuse another change. */
  newErrors(row: RowOf<M>, before: RowOf<M> | undefined): readonly Problem[] {
    const errors = this.of(row).filter((problem) => problem.severity === "error");
    if (errors.length === 0 || before === undefined) return errors;
    const old = this.of(before);
    return errors.filter((each) => !old.some((problem) => isSame(problem, each)));
  }

  ofPlace(row: RowOf<M>): readonly Problem[] | undefined {
    return this.#ofPlace.get(row);
  }

  setOfPlace(row: RowOf<M>, problems: readonly Problem[] | undefined): void {
    if (problems === undefined) this.#ofPlace.delete(row);
    else this.#ofPlace.set(row, problems);
    this.#problems.delete(row);
  }

  valueOf(row: RowOf<M>, name: string): unknown {
    return this.#checker.valueOf(row, name);
  }
}

const isSame = (a: Problem, b: Problem): boolean =>
  a.code === b.code && a.pointer === b.pointer && a.message === b.message;
