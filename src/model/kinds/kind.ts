import { IronwoodError, shown, unknownName } from "../../errors/index.ts";
import type { ProblemCode } from "../problem.ts";
import type { MessageFacts, MessageName } from "../words.ts";

/** What every kind may say about itself; the words are JSON Schema's, `required` is HTML's, one for each field. */
export interface CommonOptions<V> {
  /** What people call it; without it, made from the name: `fenceCost` is "Fence cost". */
  readonly title?: string | undefined;
  readonly description?: string | undefined;
  /** Whether it has to be given. Blanks alone are not given; of a boolean it means answered. */
  readonly required?: boolean | undefined;
  /** What a new entry has from the first moment, and what a blanked field gets back. */
  readonly default?: V | undefined;
  readonly examples?: readonly V[] | undefined;
  /** What the control shows while it is blank. */
  readonly placeholder?: string | undefined;
  /** Whether only code can change it. */
  readonly readOnly?: boolean | undefined;
  /** Whether it is a secret, which appears in no draft, log or explanation. */
  readonly writeOnly?: boolean | undefined;
}

/** What is wrong with one value, before it has words and a place. */
export interface Finding {
  readonly code: ProblemCode;
  readonly message: MessageName;
  readonly facts: MessageFacts;
}

/** What a text came to. */
export type Reading<V> = { readonly ok: true; readonly value: V } | { readonly ok: false; readonly finding: Finding };

/** One thing that can be chosen. */
export interface Choice<V = unknown> {
  readonly const: V;
  readonly title: string;
}

/** The names of the kinds of values. */
export type KindName =
  "text" | "integer" | "number" | "decimal" | "boolean" | "date" | "time" | "dateTime" | "oneOf" | "someOf";

/**
 * What a value is: its type, its constraints, how it is read from text and written to it.
 * `V` is its type, `Empty` what it is while it is blank, `Sure` whether it is never blank in a complete row.
 */
export interface Kind<V = unknown, Empty = unknown, Sure extends boolean = boolean> {
  readonly kind: KindName;
  readonly options: CommonOptions<V>;
  readonly empty: Empty;
  /** The choices, in order, where there are some. */
  readonly choices?: readonly Choice[];
  /** Its type in words, as errors for the builder say it. */
  readonly expects: string;
  isBlank(value: V | Empty): boolean;
  same(a: V | Empty, b: V | Empty): boolean;
  /** Whether a value from code is of the type. Constraints are not looked at. */
  belongs(value: unknown): boolean;
  /** A value from JSON, where JSON has another type for it; what it can't be stays as it is, for `belongs` to refuse. */
  revive?(json: unknown): unknown;
  read(text: string, locale: string): Reading<V | Empty>;
  /** The text to edit it with. */
  edit(value: V | Empty, locale: string): string;
  /** The text to show it with: its display format, with unit or caption. */
  show(value: V | Empty, locale: string): string;
  /** What is wrong with a value that is given: the kind's own constraints, in order. */
  check(value: V, locale: string): readonly Finding[];
  /** The message for a field that has to be given and is not. */
  readonly missing: MessageName;
  /** What it says to the compiler only. */
  readonly types?: { readonly value: V; readonly empty: Empty; readonly sure: Sure };
}

/** Any kind, whatever its types: what a list of fields is made of. */
// The compiler compares methods by both directions, so `unknown` would refuse every kind here.
// eslint-disable-next-line @typescript-eslint/no-explicit-any
export type AnyKind = Kind<any, any>;

/** Whether options make a field sure to have a value in a complete row. */
export type Sure<O> = O extends { readonly required: true }
  ? true
  : O extends { readonly default: infer D }
    ? [D] extends [undefined]
      ? false
      : true
    : false;

export const nothingFound: readonly Finding[] = [];

const commonNames = ["title", "description", "required", "default", "examples", "placeholder", "readOnly", "writeOnly"];

/** Refuses options that the kind does not have, and a default or an example of another type. */
export function checkOptions(kind: AnyKind, names: readonly string[]): void {
  const options = kind.options as Record<string, unknown>;
  const known = [...commonNames, ...names];
  for (const name of Object.keys(options)) {
    if (!known.includes(name)) throw unknownName("unknownOption", `The option of ${kind.kind}()`, name, known);
  }
  for (const [name, value] of [
    ["default", kind.options.default],
    ...((kind.options.examples ?? []) as readonly unknown[]).map((each) => ["examples", each]),
  ]) {
    if (value !== undefined && !kind.belongs(value))
      throw new IronwoodError("wrongOption", `The option ${String(name)} of ${kind.kind}() is not ${kind.expects}`, {
        received: value,
      });
  }
}

/** Refuses an option whose value can't be right. */
export function requireOption(
  right: boolean,
  kind: KindName,
  option: string,
  received: unknown,
  expected: string,
): void {
  if (!right)
    throw new IronwoodError("wrongOption", `The option ${option} of ${kind}() can't be ${shown(received)}`, {
      expected,
    });
}
