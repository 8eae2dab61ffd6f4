import { counted } from "./counted.ts";
import type { AreaWords } from "../words.ts";
import type { RowsMessage } from "../messageNames.ts";

/** English for tables, lists and grids. */
export const rowsEnglish: AreaWords<RowsMessage> = {
  noRow: () => "Choose a row first.",
  rowGone: () => "This row is not there any more.",
  rowChanged: ({ title }) => `${title} was changed: save it or take the changes back first.`,
  rowNotSaved: ({ reason, title }) => `${title} is not saved: ${reason}`,
  noRows: () => "There are no rows.",
  loadingRows: () => "Loading rows …",
  markChanged: () => "changed",
  markWrong: () => "needs your attention",
  markNew: () => "new",
  markUnsaved: () => "not saved yet",
  markSelected: () => "selected",
  markGone: () => "not in this list any more",
  rowState: () => "State",
  total: () => "Total",
  rowWent: ({ place, title }) => `${title} is in row ${place} now.`,
  rowLeft: ({ title }) => `${title} is not in this list any more.`,
  rowLeftHere: ({ title }) => `${title} is not in this list any more. It can still be edited here.`,
  rowGoneHere: ({ title }) => `${title} was deleted meanwhile. What is entered here can be copied, but not saved.`,
  rowGoneEntered: ({ title, value }) => `${title} was deleted meanwhile, so this is not saved: ${value}.`,
  copied: ({ count }) => `Rows copied: ${count}.`,
  copying: ({ count }) => `Copying: ${count} %. Escape stops it.`,
  copyStopped: () => "Stopped. Nothing was copied.",
  notCopied: ({ count }) =>
    `Nothing was copied: this browser does not take ${counted(count, "row", "rows")} at once here.`,
  pasted: ({ count }) => `Cells changed by pasting: ${count}.`,
  notPasted: ({ count }) => `Nothing was pasted. Cells that can’t be taken: ${count}.`,
  noColumn: () => "There is no column for it.",
  noRowFor: () => "There is no row for it.",
  sortedUp: ({ title }) => `Sorted by ${title}, ascending.`,
  sortedDown: ({ title }) => `Sorted by ${title}, descending.`,
  notSorted: ({ title }) => `Not sorted by ${title}.`,
  columnWidth: ({ count, title }) => `${title}: ${counted(count, "pixel", "pixels")} wide.`,
  columnPlace: ({ place, title }) => `${title} is column ${place} now.`,
  columnHidden: ({ title }) => `The column ${title} is hidden.`,
  sortFirst: ({ title }) => `To change the order of the rows, sort them by ${title} first.`,
  tableFull: ({ count }) =>
    `There is room for ${counted(count, "row", "rows")}, and ${count === 1 ? "it is taken" : "all are taken"}.`,
  notJson: ({ reason }) => `This line is not JSON: ${reason}.`,
  cellCount: ({ count, limit }) => `This line has ${counted(count, "cell", "cells")}, and the first line has ${limit}.`,
  openQuote: () => "In this line a quote is opened and not rightly closed.",
  notUtf8: () => "This line has bytes that are not UTF-8 text.",
  inUse: ({ count, value }) => `${value} is still used: ${counted(count, "time", "times")}.`,
};
