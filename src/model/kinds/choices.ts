import { getOrMake } from "../../engine/index.ts";
import { IronwoodError } from "../../errors/index.ts";
import type { Choice, ChoiceSource, KindName } from "./kind.ts";

/** What can be chosen: a plain value, which is its own caption, or a value with a caption. */
export type ChoiceGiven = string | number | { readonly const: string | number; readonly title: string };

/** Where the choices of a field come from: written down, a list that grows, or a search. */
export type ChoicesGiven = readonly ChoiceGiven[] | ChoiceSource;

/** The type of what a list of choices can give. */
export type ChoiceValue<C> = C extends { readonly const: infer V } ? V : C;

/** The type of what can be chosen from any source. */
export type ChosenFrom<C> = C extends readonly (infer I)[] ? ChoiceValue<I> : string;

/** Apart, since the compiler takes the items of what it finds to be an array for `any`. */
const isList = (value: unknown): boolean => Array.isArray(value);

export const choiceOf = (each: unknown): Choice =>
  typeof each === "object" && each !== null ? (each as Choice) : { const: each, title: String(each) };

/** Makes of any source of choices what tells them as of now. @throws `wrongOption` when there are none, or two have one value */
export function choicesFrom(kind: KindName, given: ChoicesGiven): () => readonly Choice[] {
  const source = sourceOf(given);
  if (source !== undefined) return () => source.choices;
  const choices = writtenDown(kind, given as readonly ChoiceGiven[]);
  return () => choices;
}

/** What choices come from that are not written down. */
export const sourceOf = (given: ChoicesGiven): ChoiceSource | undefined =>
  !isList(given) && typeof given === "object" && (given as unknown) !== null && "choices" in given ? given : undefined;

function writtenDown(kind: KindName, given: readonly ChoiceGiven[]): readonly Choice[] {
  if (!isList(given) || given.length === 0)
    throw new IronwoodError("wrongOption", `${kind}() needs a list of choices`, { received: given });
  const choices = given.map(choiceOf);
  const seen = new Set<unknown>();
  for (const { const: value } of choices) {
    if (seen.has(value))
      throw new IronwoodError("wrongOption", `Two choices of ${kind}() have the same value`, {
        received: value,
        expected: "a value of its own for each",
      });
    seen.add(value);
  }
  return choices;
}

/**
 * Choices are told apart without regard to case and to blanks around. A sigma has two small letters, of which one stands only at the
 * end of a word, so that the beginning of a word would not be found.
 */
export const folded = (text: string): string => text.trim().toLocaleLowerCase().replaceAll("ς", "σ");

/** The choice whose caption or value a text is, whatever its case. */
export function findChoice(choices: readonly Choice[], text: string): Choice | undefined {
  const wanted = folded(text);
  if (choices.length >= LONG) {
    const { values, captions } = textIndex(choices);
    return values.get(text) ?? captions.get(wanted);
  }
  return (
    choices.find((choice) => String(choice.const) === text) ??
    choices.find((choice) => folded(choice.title) === wanted) ??
    choices.find((choice) => folded(String(choice.const)) === wanted)
  );
}

/** From so many choices on, an index is made at the first question. */
const LONG = 40;

interface TextIndex {
  readonly values: ReadonlyMap<string, Choice>;
  /** Captions, and values as text where no caption is the same; without regard to case. */
  readonly captions: ReadonlyMap<string, Choice>;
}
const textIndexes = new WeakMap<readonly Choice[], TextIndex>();

function textIndex(choices: readonly Choice[]): TextIndex {
  let index = textIndexes.get(choices);
  if (index === undefined) {
    const values = new Map<string, Choice>();
    const captions = new Map<string, Choice>();
    const put = (map: Map<string, Choice>, text: string, choice: Choice): void => {
      if (!map.has(text)) map.set(text, choice);
    };
    for (const choice of choices) {
      put(values, String(choice.const), choice);
      put(captions, folded(choice.title), choice);
    }
    for (const choice of choices)
      if (choice.const !== choice.title) put(captions, folded(String(choice.const)), choice);
    index = { values, captions };
    textIndexes.set(choices, index);
  }
  return index;
}

/** The places of values in long lists, so that a caption costs a look-up and not a walk. */
const indexes = new WeakMap<readonly Choice[], Map<unknown, Choice>>();

/** The choice of a value. */
export function choiceAt(choices: readonly Choice[], value: unknown): Choice | undefined {
  if (choices.length < LONG) return choices.find((choice) => choice.const === value);
  const index = getOrMake(indexes, choices, () => new Map(choices.map((choice) => [choice.const, choice])));
  return index.get(value);
}

/** The caption of a value: its choice's, or the value itself when there is none. */
export const captionOf = (choices: readonly Choice[], value: unknown): string =>
  choiceAt(choices, value)?.title ?? String(value);

/** Choices in one form; a plain value has the caption that it has among others, if it is there. */
export const captioned = (given: readonly unknown[], others: readonly Choice[]): readonly Choice[] =>
  given.map((each) => (typeof each === "object" ? choiceOf(each) : (choiceAt(others, each) ?? choiceOf(each))));

export const sameChoices = (a: readonly Choice[], b: readonly Choice[]): boolean =>
  a === b ||
  (a.length === b.length && a.every((choice, at) => choice.const === b[at]!.const && choice.title === b[at]!.title));
