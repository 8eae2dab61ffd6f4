/**
 * A page as applications have them: a list of orders, a form that follows it, the lines of the order by a template, a dialog, and commands.
 * Random keys, presses, texts and changes from elsewhere: after each, all of them show what the table and the open rows hold.
 */
import { afterAll, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { seeded, times } from "../seeded.ts";
import { changing, happenAtRandom, pressing, STEPS, typing } from "./atRandom.ts";
import { closeBrowser, pageWith } from "./support.ts";

afterAll(closeBrowser);

const markup = `<p><button id="before">Before</button></p>
  <select data-name="orders" size="5" aria-label="Orders"></select>
  <button command="--add-order"></button><button command="--remove-order"></button><button command="--change-order"></button>
  <form name="order"><label>Site <input name="site"></label><label>Budget <input name="budget"></label>
  <label><input type="checkbox" name="urgent"> Urgent</label><label>Reason <input name="reason"></label>
  <output name="number"></output><output name="plants"></output><button>Save</button><button type="reset">Reset</button></form>
  <ul data-name="lines"><template><li><input name="species" aria-label="Species"><input name="count" aria-label="Count">
  <output data-name="twice"></output><button type="button" command="--remove-line"></button></li></template></ul>
  <button command="--add-line"></button><button command="--undo"></button>
  <dialog id="change"><form><output name="number"></output><output name="lines"></output><label>Site <input name="site"></label><label>Budget <input name="budget"></label>
  <label><input type="checkbox" name="urgent"> Urgent</label><label>Reason <input name="reason"></label>
  <button>Save</button><button type="button" command="request-close" commandfor="change">Cancel</button></form></dialog>
  <p role="status"></p>`;

type OnLeave = "ask" | "save" | "stay";

interface Ways {
  readonly onLeave: OnLeave;
  readonly lines: "row" | "cell";
  readonly dialog: "copy" | "live";
}

async function withOrders(ways: Ways): Promise<{ page: Page; errors: string[] }> {
  const watched = await pageWith(markup);
  await watched.page.evaluate(({ onLeave, lines: edit, dialog: inDialog }) => {
    const { asList, asRows, bindDialog, bindPage, boolean, command, editEntry, integer, model, newHistory } = ironwood;
    const { decimal, rows, rowsOf, table, text, undoCommand, view } = ironwood;
    const line = model({
      species: text({ required: true }),
      count: integer({ minimum: 1, maximum: 90 }),
      twice: integer(),
    }).calculated({ twice: (row) => row.count! * 2 });
    const order = model(
      {
        number: integer(),
        site: text({ required: true, title: "Site" }),
        budget: decimal({ minimum: "0", title: "Budget" }),
        urgent: boolean(),
        reason: text({ title: "Reason" }),
        lines: rows(line),
        plants: integer(),
      },
      { title: "Order", key: "number" },
    )
      .calculated({ plants: (row) => row.lines.reduce((sum, each) => sum + (each.count ?? 0), 0) })
      .relevant({ reason: (row) => row.urgent })
      .required({ reason: (row) => row.urgent });
    const history = newHistory();
    const begun = [
      {
        number: 1,
        site: "Hill path",
        lines: [
          { species: "Acer", count: 4 },
          { species: "Tilia", count: 2 },
        ],
      },
      { number: 2, site: "River bank", urgent: true, reason: "Flood", lines: [{ species: "Alnus", count: 9 }] },
      { number: 3, site: "Long row", lines: [] },
      { number: 4, site: "Bog", lines: [{ species: "Betula", count: 1 }] },
    ];
    const orders = table(order, begun as never, { history, locale: "en" });
    const shown = view(orders, { orderBy: "site" });
    const card = editEntry(shown, { onLeave });
    const lines = rowsOf(card, "lines");
    const inOrder = view(lines);
    let next = 5;
    const addOrder = command({
      title: "Add an order",
      run: () => {
        const added = orders.insert({ number: next, site: `Site ${next++}` });
        if (added.ok) shown.currentKey = added.row.number;
      },
    });
    const removeOrder = command({
      title: "Remove the order",
      allowed: () => shown.currentKey !== undefined || "Choose an order first.",
      run: () => void orders.delete(shown.currentKey),
    });
    const addLine = command({
      title: "Add a line",
      allowed: () => shown.currentKey !== undefined || "Choose an order first.",
      run: () => void lines.insert({ species: "Quercus", count: 1 }),
    });
    const removeLine = command(line, {
      title: "Remove",
      confirm: (row) => (row.count! > 5 ? `Remove ${row.count} plants?` : undefined),
      run: ({ row }) => void lines.delete(lines.keyOf(row)),
    });
    const dialog = bindDialog(document.querySelector("dialog")!, orders, { edit: inDialog });
    const changeOrder = command({
      title: "Change the order",
      allowed: () => shown.currentKey !== undefined || "Choose an order first.",
      run: async () => {
        await dialog.open(shown.currentKey);
      },
    });
    const bind = (): { stop(): void } =>
      bindPage(
        document,
        {
          order: card,
          orders: asList(shown, { show: "site" }),
          lines: asRows(inOrder, { edit, commands: { removeLine } }),
          ...{ addOrder, removeOrder, changeOrder, addLine, undo: undoCommand(orders) },
        },
        { strict: false },
      );
    let binding = bind();
    const first = JSON.stringify([...orders]);
    const some = (number: number): { readonly number: number | undefined } | undefined =>
      shown.at(number % Math.max(1, shown.length));
    const change = (number: number, changes: object): void => {
      const row = some(number);
      if (row !== undefined) orders.update(row.number, changes);
    };
    const other: Record<string, (number: number) => void> = {
      current: (number) => (shown.currentKey = some(number)?.number),
      site: (number) => change(number, { site: ["Bog", "Zoo", "Hill path", "Acre"][number % 4] }),
      budget: (number) => change(number, { budget: ironwood.Decimal.of(String(number / 4)) }),
      urgent: (number) => change(number, { urgent: number % 2 === 0, reason: number % 3 === 0 ? "Frost" : "" }),
      lines: (number) =>
        change(number, {
          lines: Array.from({ length: number % 4 }, (_, at) => ({ species: `S${number}`, count: at + 1 })),
        }),
      insideLine: (number) => {
        const row = inOrder.at(number % Math.max(1, inOrder.length));
        if (row !== undefined) lines.update(lines.keyOf(row), { count: 1 + (number % 7) });
      },
      remove: (number) => {
        if (number % 3 === 0 && shown.length > 1) orders.delete(some(number)!.number);
      },
      bindAgain: (number) => {
        // Bound again over what is bound already, or after that was stopped.
        if (number % 2 === 0) binding.stop();
        const before = binding;
        binding = bind();
        if (number % 2 === 1) before.stop();
      },
      undo: () => void history.undo(),
      redo: () => void history.redo(),
    };
    Object.assign(kept, {
      other,
      faults(): string[] {
        const { found, differs } = newDifferences();
        const list = document.querySelector<HTMLSelectElement>("[data-name=orders]")!;
        const captions = [...list.options]
          .filter(({ hidden, disabled }) => !hidden && !disabled)
          .map(({ text }) => text.trim());
        differs(
          "the list",
          JSON.stringify(captions),
          JSON.stringify(shown.rows().map(({ site }) => site.trim().replaceAll(/\s+/g, " "))),
        );
        const currentAt = shown.currentKey === undefined ? -1 : shown.placeOf(shown.currentKey);
        if (document.activeElement !== list) differs("the place in the list", list.selectedIndex, currentAt);
        const form = document.forms.namedItem("order")!;
        for (const name of ["site", "budget", "reason"] as const) {
          const control = form.elements.namedItem(name) as HTMLInputElement;
          const field = card.fields[name];
          if (document.activeElement !== control)
            differs(name, control.value, field.unreadable ? field.text : field.display);
          differs(
            `aria-invalid of ${name}`,
            control.getAttribute("aria-invalid") === "true",
            field.visibleProblems.some(({ severity }) => severity === "error"),
          );
          differs(
            `whether ${name} is there`,
            control.closest("[hidden]") === null && !control.disabled,
            field.relevant,
          );
        }
        differs("urgent", form.querySelector<HTMLInputElement>("[name=urgent]")!.checked, card.values.urgent);
        differs("plants", form.querySelector("[name=plants]")!.textContent, card.fields.plants.display);
        differs("lines in the entry", card.values.lines.length, inOrder.length);
        const copies = [...document.querySelectorAll("[data-name=lines] > li:not([data-gone])")];
        differs("lines", copies.length, inOrder.length);
        copies.forEach((copy, at) => {
          const row = inOrder.at(at)!;
          const species = copy.querySelector<HTMLInputElement>("[name=species]")!;
          const count = copy.querySelector<HTMLInputElement>("[name=count]")!;
          const isOpen =
            copy.contains(document.activeElement) ||
            copy.hasAttribute("data-changed") ||
            copy.hasAttribute("data-wrong");
          if (isOpen) return;
          differs(`species of line ${at}`, species.value, row.species);
          differs(`count of line ${at}`, count.value, row.count ?? "");
          differs(
            `twice of line ${at}`,
            copy.querySelector("output")!.textContent,
            row.count === undefined ? "" : row.count * 2,
          );
        });
        const told = [...document.querySelectorAll("[data-problem]")]
          .filter((each) => each.closest("[hidden]") === null)
          .map((each) => each.textContent.trim());
        for (const { message, pointer } of card.visibleProblems)
          if (!pointer.startsWith("/lines/") && !told.some((each) => each.includes(message.trim())))
            found.push(`${JSON.stringify(message)} of ${pointer} is not told; told is ${JSON.stringify(told)}`);
        for (const [name, thing] of Object.entries({ addOrder, removeOrder, changeOrder, addLine })) {
          const button = [...document.querySelectorAll("button[command]")].find(
            (each) =>
              each.getAttribute("command") === `--${name.replace(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`)}`,
          )!;
          differs(`whether ${name} can't be pressed`, button.getAttribute("aria-disabled") === "true", !thing.allowed);
        }
        if (document.querySelector("dialog")!.open !== document.querySelector("dialog")!.matches(":modal"))
          found.push("the dialog is open and not modal");
        return found;
      },
      undoAll(): string {
        for (let steps = 0; steps < 500 && history.undo().ok; steps++);
        return JSON.stringify([...orders]) === first ? "" : `${JSON.stringify([...orders])} and not ${first}`;
      },
    });
  }, ways);
  return watched;
}

const keys = [
  ...["Tab", "Tab", "Tab", "Shift+Tab", "ArrowDown", "ArrowUp", "Space", "Enter", "Escape", "Delete", "Backspace"],
  ...["Control+a", "Control+z", "Control+y", "Home", "End"],
];
const typed = ["7", "x", "31.5", "Acre", " ", "95", "12 cm", "z"];

test("at random: list, form, lines, dialog and commands show what the orders hold, and undo leads back", async () => {
  const random = seeded(Number(process.env["ORDERS_SEED"] ?? 8001));
  const rounds = times(24, 0.05);
  for (let round = 0; round < rounds; round++) {
    const ways: Ways = {
      onLeave: random.pick(["ask", "save", "stay"]),
      lines: random.pick(["row", "cell"]),
      dialog: random.pick(["copy", "live"]),
    };
    const { page, errors } = await withOrders(ways);
    await page.focus("#before");
    const press = async (): Promise<string> => {
      const top = (await page.locator("dialog[open]").count()) > 0 ? "dialog[open]:last-of-type" : "body";
      const all = page.locator(`${top} :is(input, select, button):visible:not(:disabled)`);
      const control = all.nth(random.below(await all.count()));
      const name = await control.evaluate((each) => each.getAttribute("name") ?? each.textContent.slice(0, 20));
      await control.click({ force: true, timeout: 2_000 }).catch(() => undefined);
      return `press ${name}`;
    };
    const done = await happenAtRandom(
      `round ${round}, ${JSON.stringify(ways)}`,
      random,
      [
        [7, pressing(page, random, keys)],
        [4, typing(page, random, typed)],
        [3, changing(page, random)],
        [6, press],
      ],
      async () => {
        const faults = await page.evaluate(async () => {
          await new Promise((go) => requestAnimationFrame(() => setTimeout(go, 1)));
          return (kept["faults"] as () => string[])();
        });
        // That it was bound twice is told, as it is to be.
        return [...faults, ...errors.filter((text) => !text.includes("was bound already"))];
      },
    );
    for (let presses = 0; presses < 4; presses++) await page.keyboard.press("Escape");
    const left = await page.evaluate(() => (kept["undoAll"] as () => string)());
    expect([round, done, left]).toEqual([round, done, ""]);
    await page.context().close();
  }
  console.info(`${rounds} pages of orders, ${rounds * STEPS} steps, seed ${random.seed}`);
}, 600_000);
