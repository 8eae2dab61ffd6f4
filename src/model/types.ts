import type { AnyKind } from "./kinds/kind.ts";

/** The fields of a model, by name. */
export type Fields = Readonly<Record<string, AnyKind>>;

type ValueOf<K> = K extends { readonly types?: { readonly value: infer V } } ? V : never;
type EmptyOf<K> = K extends { readonly types?: { readonly empty: infer E } } ? E : never;
type IsSure<K> = K extends { readonly types?: { readonly sure: true } } ? true : false;

/** Writes a type out for display; used on what is shown, never inside a chain of calls. */
export type Shown<T> = { [K in keyof T]: T[K] };

/** A field's type in a complete row: plain where it is sure to have a value, else with its natural blank. */
type CompleteValue<K> = IsSure<K> extends true ? ValueOf<K> : ValueOf<K> | EmptyOf<K>;

/** What is saved: `F` the fields, `C` what is calculated, `R` the names of the fields that are only sometimes relevant. */
export type CompleteRow<F extends Fields, C, R> = {
  readonly [N in Exclude<keyof F, keyof C>]: N extends R ? ValueOf<F[N]> | EmptyOf<F[N]> : CompleteValue<F[N]>;
};

/** What rules and calculations are handed: the complete row and what was calculated before. */
export type ReadRow<F extends Fields, C, R> = CompleteRow<F, C, R> & { readonly [N in keyof C]: NonNullable<C[N]> };

/** An entry's values while it is being filled in: anything may still be blank; what is calculated is read only. */
export type InProgress<F extends Fields, C> = {
  -readonly [N in Exclude<keyof F, keyof C>]: ValueOf<F[N]> | EmptyOf<F[N]>;
} & { readonly [N in keyof C]: NonNullable<C[N]> | undefined };

/** Values to begin with: any of the fields, `undefined` for "not given". */
export type GivenRow<F extends Fields, C> = {
  readonly [N in Exclude<keyof F, keyof C>]?: ValueOf<F[N]> | EmptyOf<F[N]> | undefined;
};

/** The type of a field's value while it is being filled in. */
export type FieldValue<K> = ValueOf<K> | EmptyOf<K>;
