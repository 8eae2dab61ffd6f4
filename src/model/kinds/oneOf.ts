import { captionOf, type ChoiceGiven, choiceList, type ChoiceValue, findChoice } from "./choices.ts";
import { checkOptions, type CommonOptions, type Kind, nothingFound, type Sure } from "./kind.ts";

export type OneOfOptions<V> = CommonOptions<V>;

/**
 * One of several values. Nothing is chosen until somebody chooses or a default says so; blank is `undefined`.
 *
 * @param choices - values, or `{ const, title }` where the caption is not the value
 * @throws `unknownOption`, `wrongOption`
 * @example oneOf([{ const: 1, title: "Thriving" }, { const: 2, title: "Stressed" }], { default: 1 })
 */
export function oneOf<const C extends readonly ChoiceGiven[], const O extends OneOfOptions<ChoiceValue<C[number]>>>(
  choices: C,
  options?: O,
): Kind<ChoiceValue<C[number]>, undefined, Sure<O>> {
  type V = ChoiceValue<C[number]>;
  const list = choiceList("oneOf", choices);
  const show = (value: V | undefined): string => (value === undefined ? "" : captionOf(list, value));
  const given: CommonOptions<V> = options ?? {};
  const kind: Kind<V, undefined, Sure<O>> = {
    kind: "oneOf",
    options: given,
    empty: undefined,
    choices: list,
    expects: `one of ${list.map((choice) => JSON.stringify(choice.const)).join(", ")}`,
    missing: "choiceMissing",
    isBlank: (value) => value === undefined,
    same: (a, b) => a === b,
    // A value outside the choices may come from an old row: it is of the type, and a problem.
    belongs: (value) => typeof value === "string" || typeof value === "number",
    read(text) {
      if (text.trim() === "") return { ok: true, value: undefined };
      const choice = findChoice(list, text);
      if (choice !== undefined) return { ok: true, value: choice.const as V };
      return { ok: false, finding: { code: "badInput", message: "notAChoice", facts: { value: text } } };
    },
    edit: show,
    show,
    check: (value) =>
      list.some((choice) => choice.const === value)
        ? nothingFound
        : [{ code: "notAChoice", message: "notAChoice", facts: { value: String(value) } }],
  };
  checkOptions(kind, []);
  return kind;
}
