import type { AbortSignalLike } from "../../engine/index.ts";
import { type OptionName, requireGiven, requireKindOptions, requireOptionsOf } from "../../errors/index.ts";
import { type ProblemCode, problemCodes } from "../problem.ts";
import type { CheckingMessage, ValuesMessage } from "../messageNames.ts";
import type { MessageFacts } from "../words.ts";

/** Words of a field's own: a text, or what makes one from the parts of the message and the reader's locale. */
export type Messages = Partial<
  Readonly<Record<ProblemCode, string | ((facts: MessageFacts, locale: string) => string)>>
>;

/**
 * What something is called: a text, or a function that gives the text in a language.
 *
 * @param locale - the reader's language, as a BCP 47 tag
 * @example (locale) => (locale.startsWith("de") ? "Art" : "Species")
 */
export type Title = string | ((locale: string) => string);

/** What every kind may say about itself; the words are JSON Schema's, `required` is HTML's, one for each field. */
export interface CommonOptions<V> {
  /** What people call it, or a function that says it in a language; without it, made from the name: `fenceCost` is "Fence cost". */
  readonly title?: Title | undefined;
  /** What people are told of it beside its title. */
  readonly description?: string | undefined;
  /** Whether it has to be given. Blanks alone are not given; of a boolean it means answered. */
  readonly required?: boolean | undefined;
  /** What a new entry has from the first moment, and what a blanked field gets back. */
  readonly default?: V | undefined;
  /** Values as they may be; the first stands in messages. */
  readonly examples?: readonly V[] | undefined;
  /** What the control shows while it is blank. */
  readonly placeholder?: string | undefined;
  /** Whether only code can change it. */
  readonly readOnly?: boolean | undefined;
  /** Whether it is a secret, which appears in no draft, log or explanation. */
  readonly writeOnly?: boolean | undefined;
  /** What is said instead of the library's words, by the code of the problem. */
  readonly messages?: Messages | undefined;
  /** `false` for a value of the window only, as a mode or a filter: bound and checked as others, in no row, never a change. */
  readonly saved?: boolean | undefined;
}

/** What is wrong with one value, before it has words and a place. */
export interface Finding {
  readonly code: ProblemCode;
  readonly message: CheckingMessage | ValuesMessage;
  readonly facts: MessageFacts;
  /** Where inside the value: what its JSON Pointer adds to the field's. */
  readonly inside?: string;
}

/** What a text came to. */
export type Reading<V> = { readonly ok: true; readonly value: V } | { readonly ok: false; readonly finding: Finding };

/**
 * What could be read. A class: of objects that are written out, V8 forgets with the last of them what it has learned of their values,
 * and then leaves optimized code again and again; of a class it does not.
 */
class Readable<V> {
  readonly ok = true;

  constructor(readonly value: V) {}
}

export const readAs = <V>(value: V): Reading<V> => new Readable(value);

/** One thing that can be chosen. */
export interface Choice<V = unknown> {
  /** The value that stands in the row. */
  readonly const: V;
  /** What people read. */
  readonly title: string;
}

/** What adding a choice came to: refused for being blank or there already, or because it could not be kept. */
export type Added =
  | { readonly ok: true; readonly value: string }
  | {
      readonly ok: false;
      readonly why: "valueMissing" | "duplicate" | "notSaved";
      /** What a person is told, in the language that was asked for. */
      readonly message: string;
      /** Of `notSaved`: what keeping it said. */
      readonly reason?: string;
    };

/** Choices that are not all known beforehand. */
export interface ChoiceSource {
  readonly choices: readonly Choice<string>[];
  /** Adds what a person typed, where choices can grow. */
  add?(title: string, options?: { readonly locale?: string | undefined }): Promise<Added>;
  /** Asks for the choices that go with a text, where they are searched for. */
  find?(text: string, signal: AbortSignalLike): Promise<readonly Choice<string>[]>;
}

/** The names of the kinds of values. */
export type KindName =
  | "text"
  | "integer"
  | "number"
  | "decimal"
  | "boolean"
  | "date"
  | "time"
  | "dateTime"
  | "instant"
  | "oneOf"
  | "someOf"
  | "list"
  | "group"
  | "rows"
  | "file";

/** The ends of what a control offers; without one, nothing limits it there. */
export interface Reach<V> {
  readonly least?: V | undefined;
  readonly greatest?: V | undefined;
}

/**
 * What a value is: its type, its constraints, how it is read from text and written to it.
 * `V` is its type, `Empty` what it is while it is blank, `S` whether it is never blank in a complete row.
 */
export interface Kind<V = unknown, Empty = unknown, S extends Sureness = Sureness> {
  readonly kind: KindName;
  readonly options: CommonOptions<V>;
  readonly empty: Empty;
  /** The choices as of now, in order, where there are some. */
  readonly choices?: readonly Choice[];
  /** The same in the words of a locale, where the captions are not the builder's. */
  choicesIn?(locale: string): readonly Choice[];
  /** The same kind with other choices, as where they depend on other fields: values, or `{ const, title }`. */
  narrowed?(choices: readonly unknown[]): AnyKind;
  /** Where they come from, when they grow or are searched for. */
  readonly source?: ChoiceSource | undefined;
  /** The model of the rows, where the value is rows of another model. */
  readonly rowModel?: unknown;
  /** Its type in words, as errors for the builder say it. */
  readonly expects: string;
  isBlank(value: V | Empty): boolean;
  same(a: V | Empty, b: V | Empty): boolean;
  /** A value in the one form that all have that mean the same, for kinds in which several forms do: such texts sort as what they mean. */
  meaning?(value: V): string;
  /** Whether a value from code is of the type. Constraints are not looked at. */
  belongs(value: unknown): boolean;
  /** A value from JSON, where JSON has another type for it; what it can't be stays as it is, for `belongs` to refuse. */
  revive?(json: unknown): unknown;
  /** `timeZone` is an IANA name, for the one kind that has to do with zones. */
  read(text: string, locale: string, timeZone?: string): Reading<V | Empty>;
  /** The text to edit it with. */
  edit(value: V | Empty, locale: string, timeZone?: string): string;
  /** The text to show it with: its display format, with unit or caption. */
  show(value: V | Empty, locale: string, timeZone?: string): string;
  /** What is in a value of which `show` tells little, as the rows in it: so that people can choose between two. */
  showWhole?(value: V, locale: string, timeZone: string): string;
  /** What HTML's local date and time control holds for a value, by the clock of a zone; and back: `undefined` for a time that the zone leaves out. */
  toLocal?(value: V, timeZone: string): string;
  fromLocal?(local: string, timeZone: string): V | undefined;
  /** What a text is made into when it is left. */
  tidy?(value: V): V;
  /** What is wrong with a value that is given: the kind's own constraints, in order. */
  check(value: V, locale: string, timeZone?: string): readonly Finding[];
  /** The message for a field that has to be given and is not. */
  readonly missing: CheckingMessage | ValuesMessage;
  /** What says its messages, where it has some beside those of text: so a page of text has no words for numbers. */
  readonly say?: (locale: string, name: CheckingMessage | ValuesMessage, facts?: MessageFacts) => string;
  /** The keyboard that suits it, as HTML's `inputmode`: such a value is typed as text, whatever the page says. */
  readonly inputMode?: "numeric" | "decimal" | "text";
  /** The value so many steps on, where a spinner has somewhere to go. */
  stepped?(value: V | Empty, times: number): V | Empty;
  /** The least and the greatest value that a slider or a spinner offers. */
  readonly reach?: Reach<V>;
  /** What it says to the compiler only. */
  readonly types?: { readonly value: V; readonly empty: Empty; readonly sure: S };
}

/** Any kind, whatever its types: what a list of fields is made of. */
// The compiler compares methods by both directions, so `unknown` would refuse every kind here.
// eslint-disable-next-line @typescript-eslint/no-explicit-any
export type AnyKind = Kind<any, any>;

/**
 * Whether a field is sure to have a value in a complete row; `window` when it is in no row at all, and `sureInWindow` when it is in none
 * and rules are all the same sure of its value.
 */
export type Sureness = boolean | "window" | "sureInWindow";

/** How sure options make a field. */
export type Sure<O> = O extends { readonly saved: false }
  ? SureInRow<O> extends true
    ? "sureInWindow"
    : "window"
  : SureInRow<O>;

type SureInRow<O> = O extends { readonly required: true }
  ? true
  : O extends { readonly default: infer D }
    ? [D] extends [undefined]
      ? false
      : true
    : false;

export const nothingFound: readonly Finding[] = [];

/** How many items a list may have; both included. */
export interface CountLimits {
  /** The least number of items. Default: none. */
  readonly minItems?: number | undefined;
  /** The greatest number of items. Default: none. */
  readonly maxItems?: number | undefined;
}

export function checkCount(count: number, { minItems, maxItems }: CountLimits): readonly Finding[] {
  if (minItems !== undefined && count < minItems)
    return [{ code: "tooFew", message: "tooFew", facts: { count: minItems } }];
  if (maxItems !== undefined && count > maxItems)
    return [{ code: "tooMany", message: "tooMany", facts: { count: maxItems } }];
  return nothingFound;
}

/** Refuses options that the kind does not have, and values that they can't have. */
export function checkOptions(kind: AnyKind, names: readonly OptionName[]): void {
  requireKindOptions(kind, names, problemCodes);
}

/** The options that a kind was given. */
export function optionsOf<O extends object>(kind: KindName, options: O | undefined): O {
  requireOptionsOf(kind, options);
  return options ?? ({} as O);
}

/**
 * The options of a field, which people can't change where the place gives it.
 *
 * @param given - what a field of the kind may be given
 */
export function withGiven<
  O extends { readonly given?: string | undefined; readonly required?: unknown; readonly default?: unknown },
>(kind: KindName, options: O, given: readonly string[]): O {
  requireGiven(kind, options, given);
  return options.given === undefined ? options : { ...options, readOnly: true };
}
