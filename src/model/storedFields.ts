import { getOrMake } from "../engine/index.ts";
import type { AnyKind } from "./kinds/kind.ts";
import type { AnyModel } from "./Model.ts";

type StoredFields = readonly (readonly [name: string, kind: AnyKind])[];

const known = new WeakMap<AnyModel, StoredFields>();

/** The fields that a row holds and a store keeps: not what is calculated, nor what is of the window only. A model never changes. */
export const storedFields = (model: AnyModel): StoredFields =>
  getOrMake(known, model, () =>
    [...model.kinds].filter(([name, kind]) => !model.isCalculated(name) && kind.options.saved !== false),
  );
