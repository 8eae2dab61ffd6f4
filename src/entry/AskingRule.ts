import { because, Follower, platform, sameValue, type SignalController, Value } from "../engine/index.ts";
import { problemOf, problemsFrom } from "../check/index.ts";
import { BLANK, newReader, type Problem, type Rule, say } from "../model/index.ts";
import type { ReadRow } from "./Proposal.ts";

/** What a rule that asks elsewhere wants to know of the entry that it judges. */
export interface AskingEntry extends ReadRow {
  readonly isNew: boolean;
  readonly locale: string;
  /** Whether anything was changed; followed. */
  readonly isEdited: boolean;
  isRelevant(name: string): boolean;
  /** Whether a field is right but for what rules that ask say. */
  holdsAlone(name: string): boolean;
}

interface State {
  readonly checking: boolean;
  /** In the words of the language of now, at the field with this name. */
  readonly problems: (at: string) => readonly Problem[];
}

const none = (): readonly Problem[] => [];
const resting: State = { checking: false, problems: none };
const checking: State = { checking: true, problems: none };

/** A failure of the last moments is the answer: a press that checks and then saves asks once. */
const FRESH = 1_000;

/** What there is to do: nothing, or a number that is another one for other values. */
const NOTHING = 0;

/**
 * A rule that asks elsewhere, over one entry. It is asked when what it reads has been quiet for a while; an answer for
 * values that have changed since is dropped, and the request is aborted by its signal.
 */
export class AskingRule {
  readonly #state = new Value<State>(resting);
  /** What was read for the verdict that there is or that is being waited for. */
  #read = new Map<string, unknown>();
  readonly #readMore = new Value(0);
  #turn = 1;
  #controller: SignalController | undefined;
  #timer: unknown;
  #failedAt: number | undefined;
  #waiting: (() => void)[] = [];
  readonly #follower: Follower<number>;
  readonly #entry: AskingEntry;

  constructor(
    readonly rule: Rule,
    entry: AskingEntry,
  ) {
    this.#entry = entry;
    this.#follower = new Follower(
      () => this.#look(),
      (turn) => this.#turnTo(turn),
      `rule ${rule.name}`,
    );
    if (this.#look() !== NOTHING) this.#begin();
  }

  get checking(): boolean {
    return this.#state.read().checking;
  }

  problemsAt(name: string): readonly Problem[] {
    return this.#state.read().problems(name);
  }

  /** Whether its verdict is still to come, or one that could not be had is to be asked for again. */
  get isOpen(): boolean {
    return this.#state.peek().checking || this.#isStale;
  }

  get #isStale(): boolean {
    return this.#failedAt !== undefined && platform.now() - this.#failedAt >= FRESH;
  }

  /** Waits for the verdict, asking at once; one that could not be had a while ago is asked for again. */
  answered(): Promise<void> {
    if (this.#isStale) this.#begin();
    if (!this.#state.peek().checking) return Promise.resolve();
    const waiting = new Promise<void>((done) => this.#waiting.push(done));
    if (this.#controller === undefined) this.#ask();
    return waiting;
  }

  stop(): void {
    this.#follower.stop();
    this.#end(resting);
  }

  /** Whether there is something new to ask about. Of what it reads it needs to know only whether it is another. */
  #look(): number {
    this.#readMore.read();
    const { rule } = this;
    const entry = this.#entry;
    if (!entry.isNew && !entry.isEdited) return NOTHING;
    if (rule.shownAt.length > 0 && !rule.shownAt.some((name) => entry.isRelevant(name))) return NOTHING;
    for (const name of new Set([...rule.shownAt, ...this.#read.keys()])) if (!entry.holdsAlone(name)) return NOTHING;
    for (const [name, value] of this.#read) if (!sameValue(value, this.#valueOf(name))) return ++this.#turn;
    return this.#turn;
  }

  #valueOf(name: string): unknown {
    try {
      return this.#entry.readForRule(name);
    } catch (reason) {
      if (reason === BLANK) return BLANK;
      throw reason;
    }
  }

  #turnTo(turn: number): void {
    if (turn === NOTHING) this.#end(resting);
    else this.#begin();
  }

  /** Waits until it is quiet, unless somebody waits for the verdict. */
  #begin(): void {
    this.#end(checking);
    this.#read = new Map(this.rule.shownAt.map((name) => [name, this.#valueOf(name)]));
    this.#lookAtMore();
    if (this.#waiting.length > 0) this.#ask();
    else this.#timer = platform.after(this.rule.quiet, () => this.#ask());
  }

  #ask(): void {
    platform.cancel(this.#timer);
    const { rule } = this;
    const entry = this.#entry;
    const controller = platform.newController();
    this.#controller = controller;
    const current = (): boolean => this.#controller === controller;
    const read = this.#read;
    const reader = newReader(entry.model, (name) => {
      const value = this.#valueOf(name);
      if (!read.has(name)) {
        read.set(name, value);
        if (current()) this.#lookAtMore();
      }
      if (value === BLANK) throw BLANK;
      return value;
    });
    this.#timer = platform.after(rule.timeout, () => {
      const count = Math.round(rule.timeout / 100) / 10;
      if (current()) this.#fail(() => say(entry.locale, "noAnswer", { count }));
    });
    void new Promise((answer) => answer(rule.holds(reader as never, { signal: controller.signal }))).then(
      (verdict) =>
        current() && this.#end({ checking: false, problems: (at) => problemsFrom(verdict, rule, entry.locale, at) }),
      (reason: unknown) => {
        if (!current()) return;
        // It ended at the first read of something that is missing: as with any rule, that has a problem of its own.
        if (reason === BLANK) this.#end(resting);
        else this.#fail(() => (reason instanceof Error ? reason.message : String(reason)));
      },
    );
  }

  /** Runs the rule again with the present values. */
  #lookAtMore(): void {
    this.#readMore.write(this.#readMore.peek() + 1);
  }

  #fail(why: () => string): void {
    const problems = (at: string): readonly Problem[] => {
      const because = why();
      const reason = /[.!?]$/.test(because) ? because : `${because}.`;
      const message = say(this.#entry.locale, "checkFailed", { reason });
      return [{ ...problemOf(this.rule, message, at), code: "checkFailed", severity: "warning" }];
    };
    this.#end({ checking: false, problems });
    this.#failedAt = platform.now();
  }

  /** Aborts the request that is under way. */
  #end(state: State): void {
    platform.cancel(this.#timer);
    this.#controller?.abort();
    this.#controller = undefined;
    this.#failedAt = undefined;
    because({ cause: "code" }, () => this.#state.write(state));
    if (state.checking) return;
    for (const done of this.#waiting.splice(0)) done();
  }
}
