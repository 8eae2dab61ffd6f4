import { checkOptions, type CommonOptions, type Kind, nothingFound, type Sure } from "./kind.ts";

export interface BooleanOptions extends CommonOptions<boolean> {
  /** The one answer that is right: `true` for what must be agreed to. */
  readonly const?: boolean | undefined;
  /** Whether it may be left open: it is then blank, not `false`, until somebody answers, and the answer can be taken back. */
  readonly unanswered?: boolean | undefined;
  /** What is shown for yes and for no; without them, `yes` and `no`. */
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
  const given: BooleanOptions = options ?? {};
  const [yes, no] = given.titles ?? ["yes", "no"];
  const show = (value: boolean | undefined): string => (value === undefined ? "" : value ? yes : no);
  const kind: Kind<boolean, boolean | undefined> = {
    kind: "boolean",
    options: given,
    empty: given.required === true || given.unanswered === true ? undefined : false,
    choices: [
      { const: true, title: yes },
      { const: false, title: no },
    ],
    expects: "true or false",
    missing: "answerMissing",
    isBlank: (value) => value === undefined,
    same: (a, b) => a === b,
    belongs: (value) => typeof value === "boolean",
    read(text) {
      const wanted = text.trim().toLowerCase();
      if (wanted === "") return { ok: true, value: kind.empty };
      if (wanted === "true" || wanted === yes.toLowerCase()) return { ok: true, value: true };
      if (wanted === "false" || wanted === no.toLowerCase()) return { ok: true, value: false };
      return { ok: false, finding: { code: "badInput", message: "notAChoice", facts: { value: text } } };
    },
    edit: show,
    show,
    check: (value) =>
      given.const === undefined || value === given.const
        ? nothingFound
        : [{ code: "notConst", message: "notConst", facts: { value: show(given.const) } }],
  };
  checkOptions(kind, ["const", "unanswered", "titles"]);
  return kind as Kind<boolean, EmptyBoolean<O>, Sure<O>>;
}
