/** What is bound, stopped and bound again: nothing of the one row is in the next, and the page is what it was. */
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { type ControlSpec, controlList, definePlainField } from "./controlList.ts";
import { closeBrowser, pageWith } from "./support.ts";

let page: Page;
beforeAll(async () => {
  ({ page } = await pageWith(""));
  await page.evaluate(definePlainField);
});
afterAll(closeBrowser);

const frame = (markup: string): string =>
  `<form name="tree" aria-busy="true"><button type="button" id="before">before</button>${markup}
    <div role="alert" hidden>Nothing</div><output name="length">no length</output><meter name="share" max="9"></meter>
    <input name="double" type="number"><button aria-busy="false">Save</button></form><p role="status">Ready</p>`;

/** A page with the one control that nothing has bound, and what the tests ask of it under `kept`. */
async function plainPage({ markup, kind, shown, standard, other }: ControlSpec): Promise<void> {
  await page.evaluate(`(() => {
    kept.binding?.stop();
    document.body.innerHTML = ${JSON.stringify(frame(markup))};
    const { model, newEntry, bindPage, Decimal, text, number, integer, decimal, boolean, date, time, dateTime, oneOf, someOf, file } = ironwood;
    const flag = () => boolean({ readOnly: true, saved: false });
    const tree = model({ it: ${kind("{ required: true }")}, hidden: flag(), locked: flag() })
      .relevant({ it: (t) => !t.hidden })
      .readOnly({ it: (t) => t.locked })
      .calculated({ length: (t) => String(t.it).length, share: () => 3, double: () => 1.5 });
    const all = () => [...document.querySelectorAll("form [name=it]")];
    Object.assign(kept, {
      newEntry: (it) => newEntry(tree, { locale: "en-US", values: it === undefined ? {} : { it }, save: () => {} }),
      bind: (entry) => Object.assign(kept, { entry, binding: bindPage(document, { tree: entry }) }),
      shown: () => ((all, el) => ${shown})(all(), all()[0]),
      state: () => document.body.innerHTML + JSON.stringify(all().map((each) => [
        each.value, each.checked, each.indeterminate, [...(each.selectedOptions ?? [])].map(({ value }) => value), each.validationMessage,
      ])),
      standard: () => (${standard}),
      other: () => (${other}),
    });
  })()`);
}

const evaluate = (code: string): Promise<unknown> => page.evaluate(code);

/** What may have happened to a control before it is stopped. */
const happenings: readonly (readonly [what: string, happen: (spec: ControlSpec) => Promise<unknown>])[] = [
  ["nothing", () => Promise.resolve()],
  [
    "a person has changed it",
    async (spec) => {
      await spec.act(page);
      await page.locator("#before").focus();
    },
  ],
  ["its problem is shown", () => evaluate("kept.entry.save().then(() => {})")],
  ["it is not relevant", () => evaluate("void (kept.entry.values.hidden = true)")],
  ["it is read-only", () => evaluate("void (kept.entry.values.locked = true)")],
];

describe.each(controlList.map((spec) => [spec.control, spec] as const))("%s", (_, spec) => {
  test.each(happenings)(
    "stopped after %s, the page is what it was, and the next row is not touched",
    async (__, happen) => {
      await plainPage(spec);
      const before = await evaluate("kept.state()");
      await evaluate("void kept.bind(kept.newEntry(kept.standard()))");
      expect(await evaluate("kept.shown()")).toEqual(spec.standardShown);
      await happen(spec);
      await evaluate("kept.binding.stop()");
      expect(await evaluate("kept.state()")).toBe(before);
      // Another row, a blank one, and the first again.
      await evaluate("void kept.bind(kept.newEntry(kept.other()))");
      expect(await evaluate("[kept.shown(), kept.entry.changed]")).toEqual([spec.otherShown, false]);
      await evaluate("kept.binding.stop()");
      await evaluate("void kept.bind(kept.newEntry())");
      expect(await evaluate("[kept.shown(), kept.entry.changed]")).toEqual([spec.blankShown, false]);
      await evaluate("kept.binding.stop()");
      await evaluate("void kept.bind(kept.newEntry(kept.standard()))");
      expect(await evaluate("[kept.shown(), kept.entry.changed]")).toEqual([spec.standardShown, false]);
      await evaluate("kept.binding.stop()");
      expect(await evaluate("kept.state()")).toBe(before);
    },
  );
});

describe("bound twice", () => {
  const twice = `<form name="card"><label>Tag <input name="tag"></label><label>Girth <input name="girth" type="range"></label>
      <output name="tag"></output><button>Save</button><button type="button" command="--print">Print</button></form>
    <div style="height: 200px"><table data-name="stock" aria-label="Stock"></table></div>
    <ul data-name="tasks"><template><li><b data-name="tag"></b></li></template></ul>
    <select data-name="beds" size="3" aria-label="Beds"></select><p role="status"></p>`;

  test("the second takes over: one save, one run, one grid, one list; and the builder is told of each", async () => {
    const { page: own, errors } = await pageWith(twice);
    const markup = await own.evaluate(() => document.body.innerHTML);
    await own.evaluate(() => {
      const { asGrid, asList, asRows, bindPage, command, integer, model, newEntry, table, text } = ironwood;
      const plant = model({ tag: text(), girth: integer() }, { key: "tag" });
      const done: string[] = [];
      const bind = (name: string): { stop(): void } => {
        const stock = table(plant, [
          { tag: `${name}1`, girth: 1 },
          { tag: `${name}2`, girth: 2 },
        ]);
        return bindPage(document, {
          card: newEntry(plant, { locale: "en", values: { tag: name }, save: () => void done.push(`saved ${name}`) }),
          print: command({ run: () => void done.push(`printed ${name}`) }),
          stock: asGrid(stock),
          tasks: asRows(stock),
          beds: asList(stock),
        });
      };
      Object.assign(kept, { done, first: bind("A"), second: bind("B") });
    });
    const told = errors.join("\n");
    for (const element of ['<form name="card">', '<table data-name="stock">', '<ul data-name="tasks">', "<button"])
      expect(told).toContain(element);
    expect(told.match(/was bound already as (a form|a command|a grid|rows|a list)/g)).toHaveLength(5);
    const seen = (): Promise<unknown> =>
      own.evaluate(() => [
        document.querySelector<HTMLInputElement>("[name=tag]")!.value,
        document.querySelector("output")!.textContent,
        document.querySelectorAll("form span").length,
        [...document.querySelectorAll("ul b")].map((each) => each.textContent).join(),
        [...document.querySelectorAll("select option")].map((each) => each.textContent).join(),
        document.querySelectorAll("table > thead, table > tbody").length,
        [...document.querySelectorAll("tbody tr:not([data-space])")].map((row) => row.textContent.slice(0, 2)).join(),
      ]);
    const wanted = ["B", "B", 1, "B1,B2", "B1,B2", 2, "B1,B2"];
    expect(await seen()).toEqual(wanted);
    // Stopping what has ended already takes nothing from the other.
    await own.evaluate(() => (kept["first"] as { stop(): void }).stop());
    expect(await seen()).toEqual(wanted);
    await own.fill("[name=tag]", "C");
    await own.click("text=Save");
    await own.click("text=Print");
    await own.waitForFunction(() => (kept["done"] as string[]).length > 1);
    await own.waitForTimeout(50);
    expect(await own.evaluate(() => kept["done"])).toEqual(["saved B", "printed B"]);
    await own.evaluate(() => (kept["second"] as { stop(): void }).stop());
    expect(await own.evaluate(() => document.body.innerHTML)).toBe(markup);
  });
});

test.each(["copy", "live"] as const)(
  "a dialog (%s) over one row and then another shows each row's own values, and writes neither into the other",
  async (edit) => {
    const { page: own } = await pageWith(
      `<dialog><form name="order"><label>Site <input name="site"></label><label>Budget <input name="budget"></label>
      <label>Lorry <select name="lorry"></select></label><label><input type="checkbox" name="paid"> Paid</label>
      <button>Save</button></form></dialog><p role="status"></p>`,
    );
    await own.evaluate((way) => {
      const { bindDialog, boolean, model, number, oneOf, table, text } = ironwood;
      const orders = table(
        model(
          {
            id: text({ required: true, readOnly: true }),
            site: text(),
            budget: number({ display: { maximumFractionDigits: 1 } }),
            lorry: oneOf(["small", "large"]),
            paid: boolean(),
          },
          { key: "id" },
        ),
        [
          { id: "1", site: "School yard", budget: 31.4159, lorry: "small", paid: true },
          { id: "2", site: "River bank", budget: undefined, lorry: undefined, paid: false },
        ],
      );
      const dialog = bindDialog(document.querySelector("dialog")!, orders, { edit: way });
      Object.assign(kept, { orders, dialog });
    }, edit);
    const rows = await own.evaluate(() => JSON.stringify([...(kept["orders"] as Iterable<unknown>)]));
    for (const key of ["1", "2", "1", "2"]) {
      await own.evaluate((id) => {
        kept["closed"] = (kept["dialog"] as { open(key: string): Promise<boolean> }).open(id);
      }, key);
      const seen = await own.evaluate(() => [
        document.querySelector<HTMLInputElement>("[name=site]")!.value,
        document.querySelector<HTMLInputElement>("[name=budget]")!.value,
        document.querySelector<HTMLSelectElement>("[name=lorry]")!.value,
        document.querySelector<HTMLInputElement>("[name=paid]")!.checked,
      ]);
      expect(seen).toEqual(key === "1" ? ["School yard", "31.4", "small", true] : ["River bank", "", "", false]);
      await own.keyboard.press("Escape");
      await own.evaluate(() => kept["closed"]);
      expect(await own.evaluate(() => document.querySelector("dialog")!.open)).toBe(false);
    }
    expect(await own.evaluate(() => JSON.stringify([...(kept["orders"] as Iterable<unknown>)]))).toBe(rows);
  },
);

test("a field that has the focus already when it is bound shows its value, and keeps what was typed before", async () => {
  const { page: own } = await pageWith(
    `<form name="card"><label>Tag <input name="tag"></label><label>Girth <input name="girth"></label></form>`,
  );
  const bind = (): Promise<unknown> =>
    own.evaluate(() => {
      const { bindPage, model, newEntry, number, text } = ironwood;
      const plant = model({ tag: text(), girth: number({ unit: "centimeter" }) });
      const card = newEntry(plant, { locale: "en", values: { tag: "AB-0042", girth: 31.5 } });
      (kept["bound"] as { stop(): void } | undefined)?.stop();
      Object.assign(kept, { card, bound: bindPage(document, { card }) });
      return [...document.querySelectorAll("input")].map(({ value }) => value).concat(String(card.changed));
    });
  await own.focus("[name=tag]");
  expect(await bind()).toEqual(["AB-0042", "31.5 cm", "false"]);
  await own.focus("[name=girth]");
  expect(await bind()).toEqual(["AB-0042", "31.5", "false"]);
  await own.evaluate(() => (kept["bound"] as { stop(): void }).stop());
  await own.fill("[name=girth]", "40");
  expect(await bind()).toEqual(["AB-0042", "40", "true"]);
});

describe("a date that is half typed", () => {
  test.each([
    ["date", "date()", "11", "2026-11-23"],
    ["time", "time()", "11", "11:30"],
    ["datetime-local", "dateTime()", "1123", "2026-11-23T11:30"],
  ])(
    "in a control of type %s is not blank: nothing is saved, and it says so, when it is left, by Enter and by a command",
    async (type, kind, typed, whole) => {
      for (const way of ["leaving", "Enter", "command"]) {
        const { page: own } = await pageWith(
          `<form name="card"><label>Due <input type="${type}" name="due"></label><button>Save</button>
          <button type="button" command="--keep">Keep</button></form><p role="status"></p>`,
        );
        await own.evaluate(`(() => {
        const { bindPage, command, date, dateTime, model, newEntry, time } = ironwood;
        const saved = [];
        const card = newEntry(model({ due: ${kind} }), { locale: "en", save: (row) => void saved.push(row.due ?? "blank") });
        Object.assign(kept, { card, saved });
        bindPage(document, { card, keep: command({ run: async () => void (await card.save()) }) });
      })()`);
        await own.focus("[name=due]");
        await own.keyboard.type(typed);
        if (way === "leaving") await own.focus("text=Save");
        else if (way === "Enter") await own.keyboard.press("Enter");
        else await own.evaluate(() => document.querySelector<HTMLElement>("[command]")!.click());
        if (way === "leaving") await own.evaluate(() => (kept["card"] as { save(): Promise<unknown> }).save());
        await own.waitForFunction(() => document.querySelector("[name=due]")!.getAttribute("aria-invalid") === "true");
        expect(await own.evaluate(() => [kept["saved"], (kept["card"] as { valid: boolean }).valid])).toEqual([
          [],
          false,
        ]);
        await own.fill("[name=due]", whole);
        await own.click("text=Save");
        await own.waitForFunction(() => (kept["saved"] as string[]).length > 0);
        expect(await own.evaluate(() => kept["saved"])).toEqual([whole]);
      }
    },
  );
});
