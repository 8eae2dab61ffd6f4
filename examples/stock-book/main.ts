/** The page: a grid over the stock, a form over its current row, and what is said about both. */
import { command } from "ironwood";
import { asDraft, asGrid, asKept, bindOutput, bindPage, chooseCommand } from "ironwood/page";
import * as book from "./book.ts";
import { plant } from "./plants.ts";

const { details, filter, making, shown, stock } = book;

const sellOne = command(plant, {
  title: "Sell one",
  allowed: (row) => (row.condition === 3 ? "A failing plant is not sold." : row.count > 0 || "There is none left."),
  run: ({ row }) => {
    const sold = stock.update(row.tag, { count: row.count - 1 });
    if (!sold.ok) throw new Error(sold.problems.map(({ message }) => message).join(" "));
    return `Sold one of ${row.tag}.`;
  },
});

bindPage(document, {
  filter,
  making,
  plant: details,
  addPlant: book.addPlant,
  copyAsNew: book.copyAsNew,
  removeSelected: book.removeSelected,
  changeSelected: book.changeSelected,
  save: book.save,
  takeBack: book.takeBack,
  kept: asKept(book.kept),
  draft: asDraft(book.kept.draft!),
  choose: chooseCommand(book.kept),
  undo: book.undo,
  redo: book.redo,
  makeRows: book.makeRows,
  stopMaking: book.stopMaking,
  loadBook: book.loadBook,
  stock: asGrid(shown, {
    edit: "row",
    sticky: 1,
    columns: [
      "tag",
      { name: "species", width: "11rem" },
      "bed",
      "height",
      "count",
      "price",
      "worth",
      "condition",
      "potted",
      "sown",
      { name: "notes", width: "stretch" },
      { command: sellOne },
    ],
    totals: ["count", "worth"],
    unsaved: book.kept,
    keepLayout: "stock book",
    loading: () => book.makeRows.busy && stock.size === 0,
    empty: "No plant is like this. Take away what is searched for, or load the book.",
  }),
});
bindOutput(document.querySelector("#shown")!, book.inWords);
