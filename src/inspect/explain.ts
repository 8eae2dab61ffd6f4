import { Command } from "../command/index.ts";
import { Calculation, sourcesOf, type Source } from "../engine/index.ts";
import { type AnyEntry, CalculatedField, Entry, type EntryCore, Field, HeldContent } from "../entry/index.ts";
import type { Problem } from "../model/index.ts";

/** Why something is as it is: what it came to, and what was read for it, each with its own value and what was read for that. */
export interface Explanation {
  /** What is explained: the title of a field, or a condition, rule or calculation by its name. */
  readonly what: string;
  /** What it came to, in words. */
  readonly verdict: string;
  readonly because: readonly Explanation[];
  /** The whole chain, one thing in a line, what was read indented below what read it. */
  toString(): string;
}

/** What can be explained. */
export type Explainable = AnyEntry | Field | CalculatedField | Command;

/**
 * Tells why a field has its value, its state and its problems, why a command is refused, or why an entry can't be saved:
 * what was read, its value, and the verdict. Secrets (`writeOnly`) are not shown. The words are for the builder, in
 * English.
 *
 * @example console.log(String(explain(clear)));
 */
export function explain(thing: Explainable): Explanation {
  if (thing instanceof Command) return ofCommand(thing);
  if (thing instanceof Entry) return ofEntry(thing);
  return ofField(thing);
}

function node(what: string, verdict: string, because: readonly Explanation[] = []): Explanation {
  return { what, verdict, because, toString: () => lines({ what, verdict, because }).join("\n") };
}

function lines({ what, verdict, because }: Omit<Explanation, "toString">): string[] {
  const inner = because.flatMap((each) => lines(each)).map((line) => `  ${line}`);
  return [verdict === "" ? what : `${what}: ${verdict}`, ...inner];
}

function ofCommand(command: Command): Explanation {
  const { because } = traced(() => command.reason);
  const own = because.flatMap((each) => (each.what.startsWith("whether ") ? each.because : [each]));
  return node(command.title ?? "a command", command.reason ?? (command.busy ? "is running" : "can run"), own);
}

function ofEntry(entry: AnyEntry): Explanation {
  const { problems } = entry as Entry;
  const title = (entry as Entry).model.title ?? "an entry";
  const parts = problems.map((problem) => ofProblem(problem, (entry as Entry).core));
  return node(
    title,
    entry.valid ? "can be saved" : problems.length === 1 ? "one problem" : `${problems.length} problems`,
    parts,
  );
}

/** A rule by what it read; what the field itself finds needs no more than its message. */
function ofProblem(problem: Problem, core: EntryCore): Explanation {
  const place = core.model.parts.rules.findIndex(({ name }) => name === problem.code);
  const read = place < 0 ? [] : traced(() => core.rule(place)).because.flatMap((each) => each.because);
  return node(`${problem.severity} ${problem.code} at ${problem.pointer || "the row"}`, problem.message, read);
}

function ofField(field: Field | CalculatedField): Explanation {
  const { core } = field;
  const parts: Explanation[] = [];
  const condition = (what: string, holds: () => boolean | string, usual: boolean): void => {
    const { value, because } = traced(holds);
    if (because.length > 0 || (value !== false) !== usual)
      parts.push(node(what, typeof value === "string" ? value : value ? "yes" : "no", because.flatMap(unwrapped)));
  };
  condition("relevant", () => core.isRelevant(field.name), true);
  condition("required", () => field.kind.options.required === true || core.isRequired(field.name), false);
  if (field instanceof Field)
    condition("read-only", () => field.kind.options.readOnly === true || core.isReadOnly(field.name), false);
  for (const problem of field.problems) parts.push(ofProblem(problem, core));
  if (field instanceof CalculatedField || field.follows)
    parts.unshift(
      ...traced(() => field.value).because.flatMap((each) => (each.what === field.name ? each.because : [each])),
    );
  return node(field.title, shownValue(field), parts);
}

const unwrapped = (each: Explanation): readonly Explanation[] =>
  each.what.startsWith("condition of ") ? each.because : [each];

function shownValue(field: Field | CalculatedField): string {
  if (field.kind.options.writeOnly === true) return "a secret";
  if (field.unreadable) return `"${field.text}" can't be read`;
  return field.blank ? "blank" : field.display;
}

/** Runs something over the engine, and tells what it read. */
function traced<T>(work: () => T): { readonly value: T; readonly because: readonly Explanation[] } {
  const calculation = new Calculation(work, "what is explained");
  return { value: calculation.read(), because: readBy(calculation) };
}

function readBy<T>(calculation: Calculation<T>): Explanation[] {
  const seen = new Set<string>();
  return sourcesOf(calculation)
    .flatMap((source) => ofSource(source))
    .filter(({ what, verdict }) => !seen.has(`${what}: ${verdict}`) && seen.add(`${what}: ${verdict}`));
}

function ofSource(source: Source): Explanation[] {
  if (source instanceof HeldContent) {
    const field = source.owner.field(source.name);
    return [node(field.title, shownValue(field))];
  }
  if (!(source instanceof Calculation)) return [];
  const value: unknown = (source as Calculation<unknown>).read();
  const read = readBy(source as Calculation<unknown>);
  // A list with nothing in it, as of problems, was made from everything there is: that tells nothing.
  if (Array.isArray(value))
    return [
      node(source.name, value.length === 0 ? "none" : listed(value), source.name.startsWith("rule ") ? read : []),
    ];
  return [node(source.name, String(value), read)];
}

const listed = (list: readonly unknown[]): string =>
  list.map((each) => (typeof each === "object" ? (each as Problem).message : String(each))).join("; ");
