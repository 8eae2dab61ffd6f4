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
  checkOptions,
  type Choice,
  type ChoiceSource,
  type CommonOptions,
  type Kind,
  nothingFound,
  optionsOf,
  type Sure,
  type Sureness,
  readAs,
} from "./kind.ts";

/** Options of `oneOf`. */
export type OneOfOptions<V> = CommonOptions<V>;

/**
 * One of several values. Nothing is chosen until somebody chooses or a default says so; blank is `undefined`.
 *
 * @param choices - values, or `{ const, title }` where the caption is not the value; or a `choiceList` that can grow, or
 *   a `choiceSearch`
 * @throws `unknownOption`, `wrongOption`
 * @example oneOf([{ const: 1, title: "Thriving" }, { const: 2, title: "Stressed" }], { default: 1 })
 */
export function oneOf<const C extends ChoicesGiven, const O extends OneOfOptions<ChosenFrom<C>>>(
  choices: C,
  options?: O,
): Kind<ChosenFrom<C>, undefined, Sure<O>> {
  const list = choicesFrom("oneOf", choices);
  const caption = (value: unknown): string => captionOf(list(), value);
  const kind = oneOfKind<ChosenFrom<C>, Sure<O>>(list, optionsOf("oneOf", options), caption, sourceOf(choices));
  checkOptions(kind, []);
  return kind;
}

function oneOfKind<V, S extends Sureness>(
  list: () => readonly Choice[],
  given: CommonOptions<V>,
  caption: (value: unknown) => string,
  source: ChoiceSource | undefined,
): Kind<V, undefined, S> {
  const show = (value: V | undefined): string => (value === undefined ? "" : caption(value));
  return {
    kind: "oneOf",
    options: given,
    empty: undefined,
    get choices() {
      return list();
    },
    source,
    get expects() {
      const some = list()
        .slice(0, 20)
        .map((choice) => JSON.stringify(choice.const));
      return some.length === 0 ? "a text" : `one of ${some.join(", ")}`;
    },
    say: sayOfValues,
    missing: "choiceMissing",
    isBlank: (value) => value === undefined,
    same: (a, b) => a === b,
    // A value outside the choices may come from an old row: it is of the type, and a problem.
    belongs: (value) => typeof value === "string" || typeof value === "number",
    read(text) {
      if (text.trim() === "") return readAs(undefined);
      const choice = findChoice(list(), text);
      if (choice !== undefined) return readAs(choice.const as V);
      return { ok: false, finding: { code: "badInput", message: "notAChoice", facts: { value: text } } };
    },
    edit: show,
    show,
    stepped: (value, times) => steppedChoice(list(), value, times) as V,
    // What a search has not found yet may be there all the same.
    check: (value) =>
      source?.find !== undefined || choiceAt(list(), value) !== undefined
        ? nothingFound
        : [{ code: "notAChoice", message: "notAChoice", facts: { value: show(value) } }],
    narrowed(some) {
      const choices = captioned(some, list());
      // What is foreign now keeps the caption that it has among all.
      const narrow = (value: unknown): string => choiceAt(choices, value)?.title ?? caption(value);
      return oneOfKind(() => choices, given, narrow, source);
    },
  };
}

/** The choice so many places further, inside the list; from blank, the first, or the last when going down. */
export function steppedChoice(choices: readonly { readonly const: unknown }[], value: unknown, times: number): unknown {
  const at = choices.findIndex((choice) => choice.const === value);
  const first = times > 0 ? 0 : choices.length - 1;
  const wanted = at === -1 ? first : at + times;
  return choices[Math.min(choices.length - 1, Math.max(0, wanted))]?.const;
}
