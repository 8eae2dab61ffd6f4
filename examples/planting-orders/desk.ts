/** What the planner's desk knows and does: tables kept in a database that all windows share, moves that are guarded, commands. No page. */
import {
  command,
  integer,
  model,
  moveRows,
  newEntry,
  newHistory,
  redoCommand,
  reorderRows,
  table,
  undoCommand,
  view,
} from "ironwood";
import { browserDrafts } from "ironwood/browser";
import { keepTogether, writeCommand } from "ironwood/store";
import { servedTables } from "../servedTables.ts";
import { plant, plants } from "../stock-book/plants.ts";
import { allotted, order, task } from "./orders.ts";

const locale = "en-GB";
const history = newHistory();
export const stock = table(plant, [], { locale, history });
export const orders = table(order, [], { locale, history });
export const lines = table(allotted, [], { locale, history, references: { order: orders } });

export const tasks = table(task, [], { locale, history });

export const orderList = view(orders, { orderBy: "number" });
export const inStock = view(stock, {
  where: (row) => row.condition !== 3 && row.price !== undefined,
  orderBy: "species",
  searchIn: ["species", "tag"],
});
export const ofOrder = view(lines, { where: (line) => line.order === orderList.currentKey, orderBy: "load" });
export const toDo = view(tasks, { where: (each) => each.order === orderList.currentKey, orderBy: "place" });

/** The desk and its place: what one step has changed is there as a whole, or not at all. */
export const kept = await keepTogether(
  { stock, orders, lines, tasks },
  servedTables("../service/orders", "the orders"),
  { writeAfter: 500, drafts: browserDrafts() },
);
export const save = writeCommand(kept, { title: "Save now", keyShortcuts: "Control+S" });
orderList.currentKey = orderList.keys(0, 1)[0];

const money = new Intl.NumberFormat(locale, { minimumFractionDigits: 2, maximumFractionDigits: 2 });
const kilograms = new Intl.NumberFormat(locale, { maximumFractionDigits: 0, style: "unit", unit: "kilogram" });
export const cost = (): number => ofOrder.total("cost");
export const weight = (): number => ofOrder.total("weight");
export const costInWords = (): string => `${money.format(cost())} of ${money.format(orderList.current?.budget ?? 0)}`;
export const weightInWords = (): string =>
  `${kilograms.format(weight())} of ${kilograms.format(orderList.current?.lorry ?? 0)}`;

/** Whether what is allotted now may be: the budget, and what the lorry takes. */
function guarded(): true | string {
  const current = orderList.current;
  if (current === undefined) return "Choose an order first.";
  if (cost() > current.budget)
    return `That would cost ${money.format(cost())}, and the budget is ${money.format(current.budget)}.`;
  if (weight() > current.lorry)
    return `That would weigh ${kilograms.format(weight())}, and the lorry takes ${kilograms.format(current.lorry)}.`;
  return true;
}

const amountModel = model({
  amount: integer({ title: "How many of each", minimum: 1, saved: false, placeholder: "all" }),
});
export const moving = newEntry(amountModel, { locale });

/** The last number of the order in which rows stand. */
const last = <N extends string>(
  of: { rows(): readonly { readonly [_ in N]?: number | undefined }[] },
  name: N,
): number => Math.max(0, ...of.rows().map((row) => row[name] ?? 0));

const chosen = (from: {
  readonly selectedKeys: readonly unknown[];
  readonly currentKey: unknown;
}): readonly unknown[] =>
  from.selectedKeys.length > 0 ? from.selectedKeys : from.currentKey === undefined ? [] : [from.currentKey];

function allot(keys: readonly string[]): string {
  const current = orderList.currentKey;
  if (current === undefined) throw new Error("Choose an order first.");
  const { amount } = moving.values;
  const result = moveRows(stock, lines, keys, {
    as: ({ tag, species, height, count, price }) => ({
      order: current,
      load: last(ofOrder, "load") + 1,
      tag,
      species,
      height,
      count,
      price,
    }),
    quantity: "count",
    amount: amount === undefined ? undefined : (row) => Math.min(amount, row.count),
    join: ["order", "tag"],
    allowed: guarded,
  });
  if (!result.ok) throw new Error(result.problems.map(({ message }) => message).join(" "));
  return `${result.rows} of the stock go to ${orderList.current?.site ?? ""}.`;
}

export const allotChosen = command({
  title: "Allot to the order",
  allowed: () => chosen(inStock).length > 0 || "Choose plants of the stock first.",
  run: () => allot(chosen(inStock) as string[]),
});
export const allotOne = command(plant, { title: "Allot", run: ({ row }) => allot([row.tag]) });

/** Back into the stock: joined to the plant that is still there, or as the plant that it was. */
function takeBack(keys: readonly (readonly [number, string])[]): string {
  const { amount } = moving.values;
  const gone = new Map([...plants(240, 11)].map((row) => [row.tag, row]));
  const result = moveRows(lines, stock, keys as never, {
    as: ({ tag, count }) => ({ ...gone.get(tag), tag, count }),
    quantity: "count",
    amount: amount === undefined ? undefined : (row) => Math.min(amount, row.count),
    join: ["tag"],
  });
  if (!result.ok) throw new Error(result.problems.map(({ message }) => message).join(" "));
  return `${result.rows} are in stock again.`;
}
export const takeBackChosen = command({
  title: "Back into stock",
  allowed: () => chosen(ofOrder).length > 0 || "Choose plants of the order first.",
  run: () => takeBack(chosen(ofOrder) as (readonly [number, string])[]),
});

export const undo = undoCommand({ history, locale });
export const redo = redoCommand({ history, locale });

export const newOrder = command({
  title: "New",
  run: () => {
    const number = Math.max(0, ...[...orders].map((each) => each.number)) + 1;
    orders.insert({ number, site: "A new site", budget: 1000, lorry: 400 });
    orderList.currentKey = number;
    return `Order ${number} was begun.`;
  },
});
export const removeOrder = command({
  title: "Remove",
  allowed: () => orderList.currentKey !== undefined || "Choose an order first.",
  run: () => {
    const result = orders.delete(orderList.currentKey!);
    if (!result.ok) throw new Error("There are plants in this order: take them back first.");
    return `Order ${result.row.number} was removed.`;
  },
});

/** One place up or down, or out. */
const step = (key: number, by: number): void => {
  const keys = toDo.keys();
  const to = toDo.placeOf(key) + (by < 0 ? -1 : 2);
  reorderRows(toDo, [key], keys[to]);
};
export const earlier = command(task, {
  title: ({ what }) => `${what}: earlier`,
  icon: "up",
  allowed: (row) => toDo.placeOf(row.number) > 0 || "It is the first.",
  run: ({ row }) => step(row.number, -1),
});
export const later = command(task, {
  title: ({ what }) => `${what}: later`,
  icon: "down",
  allowed: (row) => toDo.placeOf(row.number) < toDo.length - 1 || "It is the last.",
  run: ({ row }) => step(row.number, 1),
});
export const removeTask = command(task, {
  title: "Remove",
  run: ({ row }) => {
    tasks.delete(row.number);
    return `${row.what} is removed.`;
  },
});
export const addTask = command({
  title: "Add a task",
  allowed: () => orderList.currentKey !== undefined || "Choose an order first.",
  run: () => {
    const number = Math.max(0, ...[...tasks].map((each) => each.number)) + 1;
    tasks.insert({ number, order: orderList.currentKey!, place: last(toDo, "place") + 1, what: "Something to do" });
  },
});
