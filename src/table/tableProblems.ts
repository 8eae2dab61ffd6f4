import { type AnyModel, pointerTo, type Problem, say, sayOfRows, sayOfValues } from "../model/index.ts";
import { keyIn } from "./rowShape.ts";

/** That there are as many rows as there may be. */
export const tableFull = (locale: string, maxItems: number): Problem =>
  problem("tableFull", "", sayOfRows(locale, "tableFull", { count: maxItems }));

/** That another row has the key of this one. */
export function keyTaken(locale: string, model: AnyModel, row: unknown): Problem {
  const value = [keyIn(model, row)].flat().map(String).join(", ");
  return problem("keyTaken", model.parts.key[0] ?? "", say(locale, "choiceExists", { value }));
}

/** That another row has what no two may have alike. */
export const alike = (locale: string, name: string, value: string): Problem =>
  problem("duplicate", name, sayOfValues(locale, "duplicateItem", { value }));

/** That a field holds the key of a row that is not there. */
export const notThere = (locale: string, name: string, value: string): Problem =>
  problem("notAChoice", name, say(locale, "notAChoice", { value }));

/** The problem of a row that others refer to, so that it can't be deleted. */
export const inUse = (locale: string, value: string, count: number): Problem =>
  problem("inUse", "", sayOfRows(locale, "inUse", { value, count }));

const problem = (
  code: "keyTaken" | "tableFull" | "duplicate" | "notAChoice" | "inUse",
  name: string,
  message: string,
): Problem => ({
  code,
  message,
  severity: "error",
  pointer: name === "" ? "" : pointerTo(name),
});
