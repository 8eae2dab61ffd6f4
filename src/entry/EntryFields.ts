import type { DeclaredNames, FieldValue, KindOf, NamesOf, ValuesOf } from "../model/index.ts";
import type { CalculatedField } from "./CalculatedField.ts";
import type { Field } from "./Field.ts";
import type { GroupFields } from "./GroupFields.ts";

/** An entry's fields by name, entered and calculated. For an entry of any model the names are not known to the compiler. */
// eslint-disable-next-line @typescript-eslint/no-explicit-any
export type EntryFields<M> = 0 extends 1 & M ? any : FieldsByName<M>;

type FieldsByName<M> = {
  readonly [N in DeclaredNames<M>]: FieldOf<KindOf<M, N>>;
} & {
  readonly [N in Exclude<NamesOf<M>, DeclaredNames<M>>]: CalculatedField<
    NonNullable<ValuesOf<M>[N & keyof ValuesOf<M>]>
  >;
};

/** A field of a kind, or the fields of a group. */
type FieldOf<K> = K extends { readonly kind: "group"; readonly group?: infer G extends object }
  ? GroupFields<{ readonly [N in keyof G]: FieldOf<G[N]> }>
  : Field<FieldValue<K>>;
