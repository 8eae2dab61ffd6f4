import { Command } from "../command/index.ts";
import { boundIn } from "../control/index.ts";
import { IronwoodError } from "../errors/index.ts";
import { internal } from "../engine/index.ts";
import {
  type AnyEntry,
  type AnyFieldState,
  type CalculatedField,
  CalculatedFieldState,
  type EntryCore,
  EntryState,
  type Field,
  FieldState,
} from "../entry/index.ts";
import type { Problem } from "../model/index.ts";
import { type Explanation, explanation } from "./Explanation.ts";
import { explainPage } from "./explainPage.ts";
import { shownValue } from "./shownValue.ts";
import { becauseOf, traced } from "./traced.ts";

/** What can be explained; of a document, everything that is bound in it. */
export type Explainable = AnyEntry | Field | CalculatedField | Command | PageLike;

/** A page, as far as it is asked for here: the platform's `document` is one. */
export interface PageLike {
  readonly nodeType: number;
}

/**
 * Tells why a field has its value, its state and its problems, why a command is refused, or why an entry can't be saved:
 * what was read, its value, and the verdict. Of a page it lists everything that is bound, by its path, with its kind, its element and its
 * value, and what is not bound and why. Secrets (`writeOnly`) are not shown. The words are for the builder, in English.
 *
 * @throws `wrongType` for what can't be explained
 * @example console.log(String(explain(clear)));
 * @example console.log(String(explain(document)));
 */
export function explain(thing: Explainable): Explanation {
  if (thing instanceof Command) return ofCommand(thing);
  if (typeof thing === "object" && (thing as unknown) !== null) {
    const state: unknown = internal in thing ? thing[internal] : undefined;
    if (state instanceof EntryState) return ofEntry(state as EntryState);
    if (state instanceof FieldState || state instanceof CalculatedFieldState) return ofField(state as AnyFieldState);
    if ("nodeType" in thing) return explainPage(boundIn(thing));
  }
  throw new IronwoodError("wrongType", "explain() was given something that it can't explain", {
    received: thing,
    expected: "an entry, a field, a command, or a document",
  });
}

function ofCommand(command: Command): Explanation {
  const { sources } = traced(() => command.reason);
  return explanation(
    command.name,
    command.reason ?? (command.busy ? "is running" : "can run"),
    becauseOf(sources, ["allowed"]),
  );
}

function ofEntry({ model, problems, valid, core }: EntryState): Explanation {
  const count = problems.length === 1 ? "one problem" : `${problems.length} problems`;
  return explanation(
    model.title ?? "an entry",
    valid ? "can be saved" : count,
    problems.map((problem) => ofProblem(problem, core)),
  );
}

/** A rule by what it read; what the field itself finds needs no more than its message. */
function ofProblem(problem: Problem, core: EntryCore): Explanation {
  const number = core.model.parts.rules.findIndex(({ name }) => name === problem.code);
  const sources = number < 0 ? [] : traced(() => core.rules.byNumber(number)).sources;
  return explanation(
    `${problem.severity} ${problem.code} at ${problem.pointer || "the row"}`,
    problem.message,
    becauseOf(sources, ["rule"]),
  );
}

function ofField(field: AnyFieldState): Explanation {
  const { owner, name, kind } = field;
  const { conditions } = owner;
  const parts: Explanation[] = [];
  const condition = (what: string, holds: () => boolean | string, usual: boolean): void => {
    const { value, sources } = traced(holds);
    const isUnusual = sources.length > 0 || (value !== false) !== usual;
    const verdict = typeof value === "string" ? value : asYesOrNo(value);
    if (isUnusual) parts.push(explanation(what, verdict, becauseOf(sources, ["condition"])));
  };
  condition("relevant", () => conditions.isRelevant(name), true);
  condition("required", () => kind.options.required === true || conditions.isRequired(name), false);
  if (field instanceof FieldState)
    condition("read-only", () => kind.options.readOnly === true || conditions.isReadOnly(name), false);
  for (const problem of field.problems) parts.push(ofProblem(problem, owner as EntryCore));
  if (field instanceof CalculatedFieldState) parts.unshift(...becauseOf(field.readNow()));
  else if (field.follows) parts.unshift(...becauseOf(traced(() => field.value).sources));
  return explanation(field.title, shownValue(field), parts);
}

const asYesOrNo = (value: boolean): string => (value ? "yes" : "no");
