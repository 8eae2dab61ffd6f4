import { sayOfValues } from "../sayOfValues.ts";
import {
  captioned,
  captionOf,
  choiceAt,
  type ChoicesGiven,
  choicesFrom,
  type ChosenFrom,
  findChoice,
  sourceOf,
} from "./choices.ts";
import {
  checkCount,
  checkOptions,
  type Choice,
  type ChoiceSource,
  type CommonOptions,
  type CountLimits,
  type Finding,
  type Kind,
  nothingFound,
  optionsOf,
  type Reading,
  type Sure,
  type Sureness,
  readAs,
} from "./kind.ts";

/** Options of `someOf`. */
export interface SomeOfOptions<V> extends CommonOptions<readonly V[]>, CountLimits {}

/**
 * Any number of several values, in the order of the choices. Blank is the empty list; `required` means at least one.
 *
 * @param choices - values, or `{ const, title }` where the caption is not the value
 * @throws `unknownOption`, `wrongOption`
 * @example someOf(["leaning", "cavity", "dead limbs"])
 */
export function someOf<const C extends ChoicesGiven, const O extends SomeOfOptions<ChosenFrom<C>>>(
  choices: C,
  options?: O,
): Kind<readonly ChosenFrom<C>[], readonly ChosenFrom<C>[], Sure<O>> {
  const list = choicesFrom("someOf", choices);
  const caption = (value: unknown): string => captionOf(list(), value);
  const kind = someOfKind<ChosenFrom<C>, Sure<O>>(list, optionsOf("someOf", options), caption, sourceOf(choices));
  checkOptions(kind, ["minItems", "maxItems"]);
  return kind;
}

function someOfKind<V, S extends Sureness>(
  list: () => readonly Choice[],
  given: SomeOfOptions<V>,
  caption: (value: unknown) => string,
  source: ChoiceSource | undefined,
): Kind<readonly V[], readonly V[], S> {
  const show = (values: readonly V[], locale: string): string =>
    new Intl.ListFormat(locale, { type: "unit", style: "short" }).format(values.map(caption));
  return {
    kind: "someOf",
    options: given,
    empty: [],
    get choices() {
      return list();
    },
    source,
    expects: "a list of values",
    say: sayOfValues,
    missing: "choiceMissing",
    isBlank: (values) => values.length === 0,
    same: (a, b) => a.length === b.length && a.every((value, place) => value === b[place]),
    belongs: (value) =>
      Array.isArray(value) && value.every((each) => typeof each === "string" || typeof each === "number"),
    read: (text) => readSome<V>(text, list()),
    edit: (values) => values.map(caption).join("; "),
    show,
    check: (values) =>
      checkSome(
        values,
        given,
        list().map((choice) => choice.const),
        caption,
      ),
    narrowed(some) {
      const choices = captioned(some, list());
      const narrow = (value: unknown): string => choiceAt(choices, value)?.title ?? caption(value);
      return someOfKind(() => choices, given, narrow, source);
    },
  };
}

function readSome<V>(text: string, list: Parameters<typeof findChoice>[0]): Reading<readonly V[]> {
  const values: V[] = [];
  for (const part of text.split(";")) {
    if (part.trim() === "") continue;
    const choice = findChoice(list, part.trim());
    if (choice === undefined)
      return { ok: false, finding: { code: "badInput", message: "notAChoice", facts: { value: part.trim() } } };
    values.push(choice.const as V);
  }
  return readAs(values);
}

function checkSome(
  values: readonly unknown[],
  limits: SomeOfOptions<unknown>,
  all: readonly unknown[],
  caption: (value: unknown) => string,
): readonly Finding[] {
  const found: Finding[] = [];
  for (const value of values)
    if (!all.includes(value))
      found.push({ code: "notAChoice", message: "notAChoice", facts: { value: caption(value) } });
  found.push(...checkCount(values.length, limits));
  return found.length === 0 ? nothingFound : found;
}
