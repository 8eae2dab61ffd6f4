import type { AnyKind } from "./kinds/kind.ts";

/** The fields of a model, by name. */
export type Fields = Readonly<Record<string, AnyKind>>;

export type ValueOf<K> = K extends { readonly types?: { readonly value: infer V } } ? V : never;
type EmptyOf<K> = K extends { readonly types?: { readonly empty: infer E } } ? E : never;
type IsSure<K> = K extends { readonly types?: { readonly sure: true | "sureInWindow" } } ? true : false;
/** The fields of a group; `never` for any other kind. */
type GroupOf<K> = K extends { readonly group?: infer G extends Fields } ? G : never;
type IsGroup<K> = K extends { readonly kind: "group" } ? true : false;
type IsOfWindow<K> = K extends { readonly types?: { readonly sure: "window" | "sureInWindow" } } ? true : false;

/** The full names of fields and groups, as `place` and `place.plot`. */
export type PathsOf<F> = {
  [N in keyof F & string]: IsGroup<F[N]> extends true ? N | `${N}.${PathsOf<GroupOf<F[N]>>}` : N;
}[keyof F & string];

/** The kind under a full name. */
export type KindAt<F, P> = P extends keyof F
  ? F[P]
  : P extends `${infer A}.${infer B}`
    ? A extends keyof F
      ? KindAt<GroupOf<F[A]>, B>
      : never
    : never;

/** Writes a type out for display; used on what is shown, never inside a chain of calls. */
export type Shown<T> = { [K in keyof T]: T[K] } & {};

/** A field's type in a complete row: plain where it is sure to have a value, else with its natural blank. */
type CompleteValue<K> = IsSure<K> extends true ? ValueOf<K> : ValueOf<K> | EmptyOf<K>;

/** What is saved: `F` the fields, `C` what is calculated, `R` the names of the fields that are only sometimes relevant. */
export type CompleteRow<F extends Fields, C, R> = {
  readonly [N in keyof F as N extends keyof C ? never : IsOfWindow<F[N]> extends true ? never : N]: InRow<F, N, R>;
} & {};

type InRow<F extends Fields, N extends keyof F, R> = N extends R ? ValueOf<F[N]> | EmptyOf<F[N]> : CompleteValue<F[N]>;

/** What rules and calculations are handed: the complete row, what is of the window only, and what was calculated before. */
export type ReadRow<F extends Fields, C, R> = {
  readonly [N in Exclude<keyof F, keyof C>]: InRow<F, N, R>;
} & { readonly [N in keyof C]: NonNullable<C[N]> };

/** An entry's values while it is being filled in: anything may still be blank; what is calculated is read only. */
export type InProgress<F extends Fields, C> = {
  -readonly [N in keyof F as N extends keyof C ? never : N]: IsGroup<F[N]> extends true
    ? InProgress<GroupOf<F[N]>, unknown>
    : ValueOf<F[N]> | EmptyOf<F[N]>;
} & { readonly [N in keyof C]: NonNullable<C[N]> | undefined };

/** Values to begin with: any of the fields, `undefined` for "not given". */
export type GivenRow<F extends Fields, C> = {
  readonly [N in Exclude<keyof F, keyof C>]?:
    (IsGroup<F[N]> extends true ? GivenRow<GroupOf<F[N]>, unknown> : ValueOf<F[N]> | EmptyOf<F[N]>) | undefined;
};

/** The type of a field's value while it is being filled in. */
export type FieldValue<K> = ValueOf<K> | EmptyOf<K>;
