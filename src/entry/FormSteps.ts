import { pointerTo, pointsInto, type Problem, say, sayOfSteps } from "../model/index.ts";
import { unknownName } from "../errors/index.ts";
import { follow, internal, type Stoppable, Value } from "../engine/index.ts";
import type { AnyEntry, Entry } from "./Entry.ts";
import type { AnyFieldState } from "./EntryCore.ts";
import { FieldState } from "./FieldState.ts";
import { stepsMark } from "./stepsMark.ts";

/** What there is to know of one step. */
export interface StepState {
  /** Its name. */
  readonly name: string;
  /** What people call it. */
  readonly title: string;
  /** Whether it is the one that is shown. */
  readonly current: boolean;
  /** Whether it was gone past; what is wrong in it is visible from then on. */
  readonly done: boolean;
  /** Whether it has an error that the person is to see. */
  readonly wrong: boolean;
}

/** One line of a summary. */
export interface SummaryItem {
  /** The full name of the field. */
  readonly name: string;
  /** What people call it. */
  readonly title: string;
  /** What the field shows, or that nothing was chosen or entered. */
  readonly text: string;
  /** Whether nothing was entered. */
  readonly blank: boolean;
}

/** What was entered in one step. */
export interface SummaryPart {
  /** The name of the step. */
  readonly step: string;
  /** What people call it. */
  readonly title: string;
  /** Its fields that matter, in order. */
  readonly items: readonly SummaryItem[];
}

/** What a wish to go on came to. */
export type StepResult = { readonly ok: true } | { readonly ok: false; readonly problems: readonly Problem[] };

/** A step, as it was given. */
export interface Step {
  readonly name: string;
  readonly fields: readonly string[];
  readonly title: () => string;
}

/** A form in pages: one is current, the next comes only when it is right, and everything stays when going back. */
export class Steps<Name extends string = string> implements Stoppable {
  readonly [stepsMark] = true;
  readonly #steps: readonly Step[];
  readonly #current: Value<string>;
  readonly #done = new Value<ReadonlySet<string>>(new Set());
  readonly #following: Stoppable;

  /** Made by {@link steps}. */
  constructor(
    /** What the steps fill. */
    readonly entry: Entry,
    given: readonly Step[],
  ) {
    this.#steps = given;
    this.#current = new Value(given[0]!.name);
    this.#following = follow(
      () => entry[internal].rowsBegun,
      () => this.begin(),
    );
  }

  /** The names of all steps, in order. */
  get names(): readonly Name[] {
    return this.#steps.map(({ name }) => name as Name);
  }

  /** The step that the person is at. One that is not relevant any more gives way to the one before it. */
  get current(): Name {
    const at = this.#at(this.#current.read());
    for (let place = at; place >= 0; place--) if (this.#isRelevant(this.#steps[place]!)) return this.names[place]!;
    return this.#relevant()[0]!.name as Name;
  }

  /** The steps that are relevant as of now, in order, with their states. */
  get list(): readonly StepState[] {
    const { current } = this;
    const done = this.#done.read();
    return this.#relevant().map((step) => ({
      name: step.name,
      title: step.title(),
      current: step.name === current,
      done: done.has(step.name) && step.name !== current,
      wrong: this.#fields(step).some((field) => field.visibleProblems.some(isError)),
    }));
  }

  /** Which step it is, counted from 1, and of how many. */
  get position(): { readonly number: number; readonly of: number; readonly title: string } {
    const { list } = this;
    const place = list.findIndex((step) => step.current);
    return { number: place + 1, of: list.length, title: list[place]!.title };
  }

  /** The fields of a step by their full names. @throws `unknownName` */
  fieldsOf(name: Name): readonly string[] {
    return this.#step(name).fields;
  }

  /** What was entered, step by step, in the words of the model: for a last look before it is saved. */
  get summary(): readonly SummaryPart[] {
    return this.#relevant()
      .filter((step) => step.fields.length > 0)
      .map((step) => ({
        step: step.name,
        title: step.title(),
        items: this.#fields(step)
          .filter((field) => field.relevant && field.kind.options.writeOnly !== true)
          .map((field) => this.#item(field)),
      }));
  }

  #item(field: AnyFieldState): SummaryItem {
    const { name, title, display } = field;
    const chosen = field.kind.choices !== undefined || field.kind.kind === "boolean";
    const blank = display === "";
    const { locale } = this.entry;
    const nothing = chosen ? sayOfSteps(locale, "nothingChosen") : say(locale, "nothingEntered");
    const text = blank ? nothing : display;
    return { name, title, text, blank };
  }

  /**
   * Makes what is wrong in a step visible, after its texts were tidied and its blanked defaults are back, and waits for
   * rules that ask elsewhere.
   *
   * @returns what is wrong in it
   */
  async check(name: Name = this.current): Promise<readonly Problem[]> {
    const step = this.#step(name);
    for (const field of this.#fields(step))
      if (field instanceof FieldState) {
        field.tidy();
        field.showProblems();
      }
    const { asking, parts } = this.entry[internal].core;
    // What is typed in rows inside the row is put into them, as when all is saved.
    const inside = (await parts.commit()).filter((problem) => isIn(step, problem));
    while (!this.#problemsIn(step).some(isError)) {
      const pending = asking.pending(step.fields);
      if (pending === undefined) break;
      await pending;
    }
    return [...this.#problemsIn(step), ...inside];
  }

  /** Goes to the next step that is relevant, if this one is right. */
  async next(): Promise<StepResult> {
    const { current } = this;
    const problems = await this.check(current);
    if (problems.some(isError)) return { ok: false, problems };
    // It may have been left while a rule was being asked.
    if (this.current === current) this.#goOn();
    return { ok: true };
  }

  /** Goes to the step before, with everything as it is. @returns whether there is one */
  back(): boolean {
    const before = this.#relevant().filter((step) => this.#at(step.name) < this.#at(this.current));
    const last = before.at(-1);
    if (last !== undefined) this.#current.write(last.name);
    return last !== undefined;
  }

  /**
   * Goes to a step: back at once, and on only past steps that are right; otherwise to the first that is not.
   *
   * @throws `unknownName`
   */
  async goTo(name: Name): Promise<StepResult> {
    const wanted = this.#at(this.#step(name).name);
    if (wanted <= this.#at(this.current)) {
      this.#current.write(name);
      return { ok: true };
    }
    for (const step of this.#relevant()) {
      if (this.#at(step.name) >= wanted) break;
      const problems = await this.check(step.name as Name);
      if (problems.some(isError)) {
        this.#current.write(step.name);
        return { ok: false, problems };
      }
      this.#pass(step.name);
    }
    this.#current.write(name);
    return { ok: true };
  }

  /** Checks all steps and saves the entry; goes to the first step that is not right. */
  async finish(): Promise<Awaited<ReturnType<AnyEntry["save"]>>> {
    for (const step of this.#relevant()) {
      const problems = await this.check(step.name as Name);
      if (problems.some(isError)) {
        this.#current.write(step.name);
        return { ok: false, problems };
      }
      this.#pass(step.name);
    }
    const result = await this.entry.save();
    if (!result.ok) this.#goToFirst(result.problems);
    return result;
  }

  /** Goes to the first step, as before anything was done. */
  begin(): void {
    this.#done.write(new Set());
    this.#current.write(this.#steps[0]!.name);
  }

  /** Follows the entry no more. */
  stop(): void {
    this.#following.stop();
  }

  [Symbol.dispose](): void {
    this.stop();
  }

  #goOn(): void {
    const { current } = this;
    this.#pass(current);
    const next = this.#relevant().find((step) => this.#at(step.name) > this.#at(current));
    if (next !== undefined) this.#current.write(next.name);
  }

  #pass(name: string): void {
    const done = this.#done.peek();
    if (!done.has(name)) this.#done.write(new Set([...done, name]));
  }

  #goToFirst(problems: readonly Problem[]): void {
    const wrong = this.#relevant().find((step) => problems.some((problem) => isIn(step, problem)));
    if (wrong !== undefined) this.#current.write(wrong.name);
  }

  #at(name: string): number {
    return this.#steps.findIndex((step) => step.name === name);
  }

  #step(name: string): Step {
    const step = this.#steps[this.#at(name)];
    if (step === undefined) throw unknownName("unknownName", "The step", name, this.names, "steps");
    return step;
  }

  /** Where none is, the first stands for all: there is always a place to be at. */
  #relevant(): readonly Step[] {
    const relevant = this.#steps.filter((step) => this.#isRelevant(step));
    return relevant.length > 0 ? relevant : this.#steps.slice(0, 1);
  }

  /** A step without fields, as one with the summary, is always there. */
  #isRelevant({ fields }: Step): boolean {
    return fields.length === 0 || fields.some((name) => this.entry[internal].core.isRelevant(name));
  }

  #fields({ fields }: Step): readonly AnyFieldState[] {
    return fields.map((name) => this.entry[internal].core.field(name));
  }

  #problemsIn(step: Step): readonly Problem[] {
    // A rule may be shown at a field of another step first; then it is told there.
    return this.#fields(step).flatMap((field) =>
      field.problems.filter(({ pointer }) => pointsInto(pointer, field.pointer)),
    );
  }
}

const isIn = ({ fields }: Step, { pointer }: Problem): boolean =>
  fields.some((name) => pointsInto(pointer, pointerTo(name)));
const isError = (problem: Problem): boolean => problem.severity === "error";
