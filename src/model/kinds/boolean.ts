import { sayOfValues } from "../sayOfValues.ts";
import { yesOrNo } from "../yesOrNo.ts";
import {
  checkOptions,
  type Choice,
  type CommonOptions,
  type Kind,
  nothingFound,
  optionsOf,
  type Sure,
  readAs,
} from "./kind.ts";

/** Options of `boolean`. */
export interface BooleanOptions extends CommonOptions<boolean> {
  /** The one answer that is right: `true` for what must be agreed to. */
  readonly const?: boolean | undefined;
  /** Whether it may be left open: it is then blank, not `false`, until somebody answers, and the answer can be taken back. */
  readonly unanswered?: boolean | undefined;
  /** What is shown for yes and for no; without them, the words of the reader's language. */
  readonly titles?: readonly [yes: string, no: string] | undefined;
}

/** What a boolean is while nobody has answered: `false`, unless an answer is required or may be left open. */
export type EmptyBoolean<O> = O extends { readonly required: true } | { readonly unanswered: true } ? undefined : false;

/**
 * Yes or no. It is `false` from the start; with `required` or `unanswered` it is blank until somebody answers.
 *
 * @throws `unknownOption`, `wrongOption`
 * @example boolean({ title: "Fenced" })
 */
export function boolean<const O extends BooleanOptions>(options?: O): Kind<boolean, EmptyBoolean<O>, Sure<O>> {
  const given: BooleanOptions = optionsOf("boolean", options as BooleanOptions | undefined);
  const titleOf = (value: boolean, locale: string): string => given.titles?.[value ? 0 : 1] ?? yesOrNo(value, locale);
  const show = (value: boolean | undefined, locale: string): string =>
    value === undefined ? "" : titleOf(value, locale);
  // Not kept, as a language may be added later.
  const choicesIn = (locale: string): readonly Choice[] =>
    [true, false].map((value) => ({ const: value, title: titleOf(value, locale) }));
  const kind: Kind<boolean, boolean | undefined> = {
    kind: "boolean",
    options: given,
    empty: given.required === true || given.unanswered === true ? undefined : false,
    choices: choicesIn("en"),
    ...(given.titles === undefined && { choicesIn }),
    expects: "true or false",
    say: sayOfValues,
    missing: "answerMissing",
    isBlank: (value) => value === undefined,
    same: (a, b) => a === b,
    belongs: (value) => typeof value === "boolean",
    read(text, locale) {
      const wanted = text.trim().toLocaleLowerCase(locale);
      if (wanted === "") return readAs(kind.empty);
      for (const value of [true, false])
        if (wanted === String(value) || wanted === titleOf(value, locale).toLocaleLowerCase(locale))
          return readAs(value);
      return { ok: false, finding: { code: "badInput", message: "notAChoice", facts: { value: text } } };
    },
    edit: show,
    show,
    check: (value, locale) =>
      given.const === undefined || value === given.const
        ? nothingFound
        : [{ code: "notConst", message: "notConst", facts: { value: show(given.const, locale) } }],
  };
  checkOptions(kind, ["const", "unanswered", "titles"]);
  return kind as Kind<boolean, EmptyBoolean<O>, Sure<O>>;
}
