import type { AnyModel, KeyOf } from "../../model/index.ts";
import { valueFromJson } from "../text/index.ts";

/** The key of a row from JSON, as a place has it that keeps JSON. Of a row whose model has no key it is a text. */
export function keyFromJson<M extends AnyModel>(model: M, json: unknown): KeyOf<M> {
  const names = model.parts.key;
  if (names.length === 0) return json as KeyOf<M>;
  const values = names.length === 1 ? [json] : (json as readonly unknown[]);
  const key = names.map((name, index) => valueFromJson(model.kindOf(name)!, values[index]).value);
  return (names.length === 1 ? key[0] : key) as KeyOf<M>;
}
