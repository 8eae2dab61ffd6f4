/** What the stock book knows and does: rows, what is shown of them, and commands. No page. */
import { askFor } from "ironwood/page";
import { browserDrafts } from "ironwood/browser";
import {
  command,
  editEntry,
  integer,
  model,
  newEntry,
  newHistory,
  oneOf,
  redoCommand,
  table,
  transaction,
  undoCommand,
  view,
} from "ironwood";
import { keep, writeCommand } from "ironwood/store";
import { servedTables } from "../servedTables.ts";
import { type Plant, plant, plants } from "./plants.ts";

const locale = "en-GB";
export const stock = table(plant, [], { locale, history: newHistory() });

const filterModel = model(
  {
    condition: oneOf(
      [
        { const: 1, title: "Thriving" },
        { const: 2, title: "Stressed" },
        { const: 3, title: "Failing" },
      ],
      { title: "Condition", saved: false },
    ),
    bed: integer({ title: "Bed", minimum: 1, maximum: 120, saved: false }),
  },
  { title: "What is shown" },
);
export const filter = newEntry(filterModel, { locale });

/** What the filter lets through; what it reads is followed. */
export const shown = view(stock, {
  where: (row) => {
    const { condition, bed } = filter.values;
    return (condition === undefined || row.condition === condition) && (bed === undefined || row.bed === bed);
  },
  searchIn: ["tag", "species", "notes"],
});

/** The book and its place: read first, then what is unsaved here is known, and what others write comes in. */
export const kept = await keep(stock, servedTables("../service/stock", "the stock book").store(plant, "stock"), {
  drafts: browserDrafts(),
});
export const save = writeCommand(kept, { title: "Save book", keyShortcuts: "Control+S" });
/** Takes back what was entered and is not saved. */
export const takeBack = command({
  title: "Take back",
  allowed: () => kept.unsavedCount > 0 || "There is nothing to take back.",
  confirm: "Take back what is not saved?",
  run: () => {
    kept.revert();
    return "The book is as it was saved.";
  },
});

export const details = editEntry(shown, { locale, onLeave: "ask" });

const percent = new Intl.NumberFormat(locale, { style: "percent" });
const count = (number: number): string => new Intl.NumberFormat(locale).format(number);
export const inWords = (): string => {
  if (shown.preparing !== undefined)
    return `Getting ready to search: ${percent.format(Math.floor(shown.preparing * 10) / 10)}`;
  const selected = shown.selectedCount;
  const some = shown.length === stock.size ? "" : ` of ${count(stock.size)}`;
  return [`${count(shown.length)}${some} rows`, ...(selected === 0 ? [] : [`${count(selected)} selected`])].join(", ");
};

const freeTag = (): string => {
  for (let number = stock.size + 1; ; number++) {
    const tag = `ZZ-${String(number).padStart(4, "0")}`;
    if (!stock.has(tag)) return tag;
  }
};

const added = (row: Partial<Plant>): string => {
  const result = stock.insert({ ...row, tag: freeTag() });
  if (!result.ok) throw new Error(result.problems.map(({ message }) => message).join(" "));
  if (shown.has(result.row.tag)) shown.currentKey = result.row.tag;
  return `Added ${result.row.tag}.`;
};

export const addPlant = command({
  title: "Add",
  run: () =>
    added({
      species: "Acer campestre",
      bed: filter.values.bed ?? 1,
      count: 1,
      condition: filter.values.condition ?? 1,
    }),
});
export const copyAsNew = command({
  title: "Copy as new",
  allowed: () => shown.current !== undefined || "Choose a row first.",
  run: () => added(shown.current!),
});
const someSelected = (): true | string =>
  shown.selectedCount > 0 || "Select some rows first: with Space, or by their edge.";
export const removeSelected = command({
  title: "Remove",
  allowed: someSelected,
  confirm: () => (shown.selectedCount > 20 ? `Remove ${count(shown.selectedCount)} rows?` : undefined),
  run: () => {
    const keys = shown.selectedKeys;
    transaction(() => {
      for (const key of keys) stock.delete(key);
    });
    return `Removed ${count(keys.length)} rows.`;
  },
});
export const changeSelected = command({
  title: "Change bed …",
  allowed: someSelected,
  run: async ({ signal }) => {
    const bed = await askFor(
      "Which bed do they go to?",
      integer({ title: "Bed", minimum: 1, maximum: 120, required: true }),
      { signal },
    );
    if (bed === undefined) return "";
    const keys = shown.selectedKeys;
    const moved = transaction(() => {
      for (const key of keys) stock.update(key, { bed });
    });
    if (!moved.ok) throw new Error("Not all of them can go there; nothing was changed.");
    return `${count(keys.length)} rows are in bed ${bed} now.`;
  },
});
export const undo = undoCommand(stock);
export const redo = redoCommand(stock);

const makingModel = model({
  rows: oneOf(
    [1000, 10_000, 100_000, 1_000_000].map((rows) => ({ const: rows, title: count(rows) })),
    { title: "Rows", default: 1_000_000, saved: false },
  ),
});
export const making = newEntry(makingModel, { locale });
const isTried = (): boolean => kept.state === "stopped";
export const makeRows = command({
  title: "Make",
  confirm: () => (kept.unsavedCount > 0 && !isTried() ? "Make other rows? What is not saved is lost." : undefined),
  run: async ({ progress, signal }) => {
    const wanted = making.values.rows ?? 1000;
    const rows: Plant[] = [];
    let since = performance.now();
    for (const row of plants(wanted, 7)) {
      rows.push(row);
      if ((rows.length & 1023) !== 0 || performance.now() - since < 30) continue;
      progress(rows.length / wanted, `${count(rows.length)} rows`);
      await new Promise((go) => setTimeout(go));
      if (signal.aborted) return "Stopped; nothing was changed.";
      since = performance.now();
    }
    kept.stop();
    stock.load(rows);
    return `${count(stock.size)} rows were made.`;
  },
});
export const stopMaking = command({
  title: "Stop",
  relevant: () => makeRows.busy,
  run: () => makeRows.stop(),
});

export const loadBook = command({
  title: "Back to the book",
  // Rows that were made for trying out are kept nowhere.
  relevant: isTried,
  run: () => location.reload(),
});
