import { platform, Value } from "../engine/index.ts";
import { asks, type Problem, type Rule } from "../model/index.ts";
import type { AskingEntry, AskingRule } from "./AskingRule.ts";
import { LoadedRule, loadAskingRules } from "./loadAskingRules.ts";

const noProblems: readonly Problem[] = [];

/** The rules of an entry that ask elsewhere. */
export class Asking {
  #rules: readonly AskingRule[] = [];
  /** Changes when a rule is found to ask elsewhere. */
  readonly #count = new Value(0);
  #stopped = false;
  readonly #entry: AskingEntry;

  constructor(entry: AskingEntry) {
    this.#entry = entry;
  }

  /** Whether there are any, as far as that is known. */
  get any(): boolean {
    return this.#declared.some(asks);
  }

  get #declared(): readonly Rule[] {
    return this.#entry.model.parts.rules;
  }

  /** Follows the rules that are known to ask; to be called once the entry is there. */
  begin(): void {
    if (this.#stopped || !this.any) return;
    if (LoadedRule === undefined) {
      loadAskingRules().then(
        () => this.begin(),
        (reason: unknown) => platform.report(reason),
      );
      return;
    }
    for (const rule of this.#declared)
      if (asks(rule) && !this.#rules.some((each) => each.rule === rule))
        this.#rules = [...this.#rules, new LoadedRule(rule, this.#entry)];
    this.#count.write(this.#rules.length);
  }

  /** Notes that a rule asks elsewhere, found out during a calculation; the request starts after the calculation. */
  beginSoon(): void {
    platform.soon(() => this.begin());
  }

  problemsOf(rule: Rule, at: string): readonly Problem[] {
    this.#count.read();
    return this.#rules.find((each) => each.rule === rule)?.problemsAt(at) ?? noProblems;
  }

  /** Whether a code is that of a rule that asks, or of its failure. */
  isCode(code: string): boolean {
    return code === "checkFailed" || this.#rules.some(({ rule }) => rule.name === code);
  }

  /** Whether one of them is being waited for; of those that are shown at a field, if it is named. Followed. */
  isChecking(name?: string): boolean {
    if (this.#declared.length === 0) return false;
    this.#count.read();
    for (const each of this.#rules)
      if ((name === undefined || each.rule.shownAt.includes(name)) && each.checking) return true;
    return false;
  }

  /**
   * Waits for the pending verdicts. More may become pending meanwhile, so the caller repeats the call until nothing is returned:
   * only then have all rules answered about the present values.
   *
   * @param names - only of rules that are shown at one of these fields
   * @returns `undefined` where nothing is to be waited for
   */
  pending(names?: readonly string[]): Promise<unknown> | undefined {
    if (!this.any) return undefined;
    if (LoadedRule === undefined) return loadAskingRules();
    this.begin();
    const open = this.#rules.filter(
      ({ rule, isOpen }) => isOpen && (names === undefined || rule.shownAt.some((name) => names.includes(name))),
    );
    return open.length === 0 ? undefined : Promise.all(open.map((rule) => rule.answered()));
  }

  stop(): void {
    this.#stopped = true;
    for (const rule of this.#rules) rule.stop();
  }
}
