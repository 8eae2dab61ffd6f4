/** The page: a list of orders, the stock and what is allotted side by side, and a dialog that changes an order. */
import { command, rowsOf, view } from "ironwood";
import {
  asDraft,
  asGrid,
  asKept,
  asList,
  asRows,
  bindCommand,
  bindDialog,
  bindGrid,
  bindOutput,
  bindPage,
  chooseCommand,
} from "ironwood/page";
import * as desk from "./desk.ts";

const find = <E extends Element>(selector: string): E => document.querySelector<E>(selector)!;
const { inStock, moving, ofOrder, orderList, orders } = desk;

const dialog = bindDialog(find<HTMLDialogElement>("#change"), orders, {
  opened: (entry) => {
    const wanted = rowsOf(entry, "wanted");
    const lines = view(wanted);
    const grid = bindGrid(find<HTMLTableElement>("#wanted"), lines, {
      edit: "cell",
      columns: [{ name: "species", width: "13rem" }, "count", { name: "least", width: "stretch" }],
      totals: ["count"],
      empty: "Nothing is wanted yet.",
    });
    const addLine = command({
      title: "Add a line",
      run: () => {
        const added = wanted.insert({ species: "Acer campestre", count: 1 });
        if (added.ok) grid.goTo(wanted.keyOf(added.row), "species");
      },
    });
    const removeLine = command({
      title: "Remove the line",
      allowed: () => lines.currentKey !== undefined || "Choose a line first.",
      run: () => {
        wanted.delete(lines.currentKey!);
      },
    });
    const buttons = [bindCommand(find("#add-line"), addLine), bindCommand(find("#remove-line"), removeLine)];
    const stop = (): void => [grid, ...buttons].forEach((each) => each.stop());
    return { stop, [Symbol.dispose]: stop };
  },
});
const changeOrder = command({
  title: "Change",
  allowed: () => orderList.currentKey !== undefined || "Choose an order first.",
  run: async () => {
    await dialog.open(orderList.currentKey!);
  },
});
const secondWindow = command({
  title: "Second window",
  run: () => void globalThis.open(location.href, "_blank"),
});

bindPage(document, {
  moving,
  changeOrder,
  secondWindow,
  allotChosen: desk.allotChosen,
  takeBackChosen: desk.takeBackChosen,
  newOrder: desk.newOrder,
  removeOrder: desk.removeOrder,
  addTask: desk.addTask,
  save: desk.save,
  kept: asKept(desk.kept),
  draft: asDraft(desk.kept.draft!),
  choose: chooseCommand(desk.kept),
  undo: desk.undo,
  redo: desk.redo,
  orders: asList(orderList, { show: "site" }),
  stock: asGrid(inStock, {
    columns: [
      { command: desk.allotOne, width: "4rem" },
      { name: "tag", width: "4.75rem" },
      { name: "species", width: "stretch" },
      { name: "height", width: "4.4rem" },
      { name: "count", width: "3.9rem" },
      { name: "price", width: "3.75rem", title: "Price" },
    ],
    totals: ["count"],
    empty: "No plant is left that could go.",
  }),
  allotted: asGrid(ofOrder, {
    columns: [
      { name: "load", width: "4.1rem" },
      { name: "tag", width: "4.75rem" },
      { name: "species", width: "stretch" },
      { name: "count", width: "3.9rem" },
      { name: "cost", width: "5rem" },
      { name: "weight", width: "4.4rem" },
    ],
    totals: ["count", "cost", "weight"],
    empty: "Nothing is allotted yet. Choose plants of the stock.",
    reorder: "load",
  }),
  tasks: asRows(desk.toDo, {
    edit: "cell",
    commands: { earlier: desk.earlier, later: desk.later, removeTask: desk.removeTask },
  }),
});

bindOutput(find("#site"), () =>
  orderList.current === undefined ? "" : `${orderList.current.number} · ${orderList.current.site}`,
);
bindOutput(find("#cost"), desk.costInWords);
bindOutput(find("#weight"), desk.weightInWords);
for (const [id, value, most] of [
  ["#cost-meter", desk.cost, () => orderList.current?.budget ?? 1],
  ["#weight-meter", desk.weight, () => orderList.current?.lorry ?? 1],
] as const) {
  const meter = find<HTMLMeterElement>(id);
  bindOutput(meter, () => value() / Math.max(1, most()));
}
bindOutput(find("title"), () => [orderList.current?.site, "Planting orders", "Thornbeck"].filter(Boolean).join(" · "));
