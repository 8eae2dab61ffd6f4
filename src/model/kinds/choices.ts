import { IronwoodError } from "../../errors/index.ts";
import type { Choice, KindName } from "./kind.ts";

/** What can be chosen: a plain value, which is its own caption, or a value with a caption. */
export type ChoiceGiven = string | number | { readonly const: string | number; readonly title: string };

/** The type of what a list of choices can give. */
export type ChoiceValue<C> = C extends { readonly const: infer V } ? V : C;

/** Apart, since the compiler takes the items of what it finds to be an array for `any`. */
const isList = (value: unknown): boolean => Array.isArray(value);

/** Brings choices to one form. @throws `wrongOption` when there are none, or two have one value */
export function choiceList(kind: KindName, given: readonly ChoiceGiven[]): readonly Choice<string | number>[] {
  if (!isList(given) || given.length === 0)
    throw new IronwoodError("wrongOption", `${kind}() needs a list of choices`, { received: given });
  const choices = given.map((each) => (typeof each === "object" ? each : { const: each, title: String(each) }));
  const values = choices.map((choice) => choice.const);
  const twice = values.find((value, place) => values.indexOf(value) !== place);
  if (twice !== undefined)
    throw new IronwoodError("wrongOption", `Two choices of ${kind}() have the same value`, {
      received: twice,
      expected: "a value of its own for each",
    });
  return choices;
}

const fold = (text: string): string => text.trim().toLocaleLowerCase();

/** The choice whose caption or value a text is, whatever its case. */
export function findChoice(choices: readonly Choice[], text: string): Choice | undefined {
  return (
    choices.find((choice) => String(choice.const) === text) ??
    choices.find((choice) => fold(choice.title) === fold(text)) ??
    choices.find((choice) => fold(String(choice.const)) === fold(text))
  );
}

/** The caption of a value: its choice's, or the value itself when there is none. */
export const captionOf = (choices: readonly Choice[], value: unknown): string =>
  choices.find((choice) => choice.const === value)?.title ?? String(value);
