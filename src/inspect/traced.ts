import { Calculation, type NodeSort, type Source, sourcesOf } from "../engine/index.ts";
import { type EntryCore, UndoableEntered } from "../entry/index.ts";
import type { Problem } from "../model/index.ts";
import { type Explanation, explanation } from "./Explanation.ts";
import { shownValue } from "./shownValue.ts";

/** What something came to, and what it has read. */
export interface Traced<T> {
  readonly value: T;
  readonly sources: readonly Source[];
}

/** Runs something over the engine, and notes what it reads. */
export function traced<T>(work: () => T): Traced<T> {
  const calculation = new Calculation(work, { sort: "other", of: "what is explained" });
  return { value: calculation.read(), sources: sourcesOf(calculation) };
}

/**
 * What was read, explained; the same thing only once.
 *
 * @param passed - sorts of nodes that say nothing by themselves: in their places stands what they have read
 */
export function becauseOf(sources: readonly Source[], passed: readonly NodeSort[] = []): Explanation[] {
  const said = new Set<string>();
  return sources
    .flatMap((source) =>
      source instanceof Calculation && passed.includes(source.identity.sort)
        ? becauseOf(sourcesOf(source), passed)
        : ofSource(source),
    )
    .filter(({ what, verdict }) => {
      const line = `${what}: ${verdict}`;
      if (said.has(line)) return false;
      said.add(line);
      return true;
    });
}

function ofSource(source: Source): Explanation[] {
  if (source instanceof UndoableEntered) {
    const field = (source.owner as EntryCore).field(source.name);
    return [explanation(field.title, shownValue(field))];
  }
  if (!(source instanceof Calculation)) return [];
  const value: unknown = (source as Calculation<unknown>).read();
  const read = (): Explanation[] => becauseOf(sourcesOf(source));
  if (!Array.isArray(value)) return [explanation(source.name, String(value), read())];
  // A list with nothing in it, as of problems, was made from everything there is: that tells nothing.
  const verdict = value.length === 0 ? "none" : listed(value);
  return [explanation(source.name, verdict, source.identity.sort === "rule" ? read() : [])];
}

const listed = (list: readonly unknown[]): string =>
  list.map((each) => (typeof each === "object" ? (each as Problem).message : String(each))).join("; ");
