import { notices } from "./command/index.ts";
import { mayLeave } from "./control/index.ts";
import { type EditEntry, editEntryWith } from "./rows/index.ts";

/**
 * Edits a row that there is: one that is given, the row of a table with a key, or whichever row is current in a view.
 * Defaults do not apply: a blank stays blank. An entry over a table saves into it; a row that is open elsewhere has its entry there.
 *
 * @throws `unknownKey` when the table has no such row; `unknownField`, `wrongType` for a row that does not fit the model
 * @example const card = editEntry(treeCard, row, { save: (row) => store.append(row) });
 * @example const plant = editEntry(stock, "AB-0042");
 * @example const details = editEntry(view(stock, { orderBy: "species" }), { onLeave: "ask" });
 */
export const editEntry: EditEntry = /* @__PURE__ */ editEntryWith({
  mayLeave: (entry) => mayLeave(entry),
  say: (text) => notices.say(text, "error"),
});
