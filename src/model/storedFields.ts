import type { AnyKind } from "./kinds/kind.ts";
import type { AnyModel } from "./Model.ts";

type StoredFields = readonly (readonly [name: string, kind: AnyKind])[];

const known = new WeakMap<AnyModel, StoredFields>();

/** The fields that a row holds and a store keeps: not what is calculated, nor what is of the window only. A model never changes. */
export function storedFields(model: AnyModel): StoredFields {
  let fields = known.get(model);
  if (fields === undefined) {
    fields = [...model.kinds].filter(([name, kind]) => !model.isCalculated(name) && kind.options.saved !== false);
    known.set(model, fields);
  }
  return fields;
}
