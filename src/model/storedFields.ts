import type { AnyKind } from "./kinds/kind.ts";
import type { AnyModel } from "./Model.ts";

/** The fields that a row holds and a store keeps: not what is calculated, nor what is of the window only. */
export const storedFields = (model: AnyModel): readonly (readonly [name: string, kind: AnyKind])[] =>
  [...model.kinds].filter(([name, kind]) => !model.isCalculated(name) && kind.options.saved !== false);
