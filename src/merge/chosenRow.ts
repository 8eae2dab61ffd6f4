import type { AnyModel } from "../model/index.ts";
import { mergeRows, type Sides } from "./mergeRows.ts";
import { rowWithFields } from "./rowWithFields.ts";

/**
 * A row that both sides changed, with what was chosen where they disagree; what only one side changed is in it in any case.
 *
 * @returns `undefined` where the side that was chosen deleted the row
 */
export function chosenRow(model: AnyModel, sides: Sides, choice: "mine" | "theirs"): unknown {
  const { mine, theirs } = sides;
  const { row, conflict } = mergeRows(model, sides);
  if (choice === "mine" || conflict === undefined) return row;
  if (mine === undefined || theirs === undefined) return theirs;
  return Object.freeze(rowWithFields(model, row, theirs, Object.keys(conflict.fields)));
}
