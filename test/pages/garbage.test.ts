/** Every public call of the page and of the browser, given anything in place of each of its arguments and options: as test/garbage.test.ts. */
import { afterAll, expect, test } from "@jest/globals";
import { closeBrowser, pageWith } from "./support.ts";

afterAll(closeBrowser);

const markup = `
  <form name="card"><label>Tag <input name="tag" id="tag"></label><label>Species <select name="species" id="species"></select></label>
  <output name="count" id="count"></output><button id="save">Save</button></form>
  <button type="button" id="run">Run</button><select id="list" size="3"></select><table id="grid"></table>
  <ul id="rows"><template><li><output data-name="tag"></output></li></template></ul><div id="part">Part</div>
  <dialog id="dialog"><form><label>Tag <input name="tag"></label><button>Save</button></form></dialog><p role="status"></p>`;

const names = [
  "bindPage",
  "bindForm",
  "bindControl",
  "bindControl of several",
  "bindCommand",
  "bindOutput",
  "bindList",
  "bindRelevant",
  "bindGrid",
  "bindRows",
  "bindDialog",
  "asGrid",
  "asList",
  "asRows",
  "asKept",
  "asDraft",
  "askFor",
  "chooseCommand",
  "adaptControl",
  "browserStore",
  "browserDrafts",
  "httpStore",
  "pickedFile",
  "shareTable",
] as const;

test.each(names)("%s", async (name) => {
  // What of the page does not agree with what it is given is reported there.
  const { page, errors } = await pageWith(markup);
  const faults = await page.evaluate(
    async ([called, fresh]) => {
      const {
        command,
        integer,
        keep,
        keepDraft,
        memoryDrafts,
        memoryStore,
        model,
        newEntry,
        oneOf,
        table,
        text,
        view,
      } = ironwood;
      const plant = model(
        { tag: text({ required: true }), species: oneOf(["Acer", "Tilia"]), count: integer() },
        { key: "tag" },
      );
      const $ = (selector: string): Element => document.querySelector(selector)!;
      const stock = () => table(plant, [{ tag: "A", species: "Acer", count: 1 }], { locale: "en" });
      const entry = () => newEntry(plant, { locale: "en", save: () => undefined });
      const { signal } = new AbortController();
      const of = (call: unknown, args: readonly unknown[], options?: number) => ({
        call: call as () => unknown,
        args,
        ...(options !== undefined && { options }),
      });
      const calls: Record<string, Parameters<typeof faultsOf>[0]> = {
        bindPage: () => of(ironwood.bindPage, [document, { card: entry() }, { strict: false, signal }], 2),
        bindForm: () => of(ironwood.bindForm, [$("form"), entry(), { strict: false, signal }], 2),
        bindControl: () => of(ironwood.bindControl, [$("#tag"), entry().fields.tag, { signal }], 2),
        "bindControl of several": () => of(ironwood.bindControl, [[$("#tag")], entry().fields.tag, { signal }], 2),
        bindCommand: () =>
          of(ironwood.bindCommand, [$("#run"), command({ title: "Run", run: () => undefined }), { signal }], 2),
        bindOutput: () =>
          of(ironwood.bindOutput, [$("#part"), entry().fields.tag, { attribute: "title", schemes: ["http"] }], 2),
        bindList: () => of(ironwood.bindList, [$("#list"), view(stock()), { show: "tag", signal }], 2),
        bindRelevant: () => of(ironwood.bindRelevant, [$("#part"), () => true, { signal }], 2),
        bindGrid: () =>
          of(
            ironwood.bindGrid,
            [$("#grid"), view(stock()), { columns: ["tag", "count"], edit: "row", totals: ["count"], signal }],
            2,
          ),
        bindRows: () => of(ironwood.bindRows, [$("#rows"), view(stock()), { edit: "row", signal }], 2),
        bindDialog: () => of(ironwood.bindDialog, [$("#dialog"), view(stock()), { edit: "copy", signal }], 2),
        asGrid: () => of(ironwood.asGrid, [view(stock()), { edit: "cell" }], 1),
        asList: () => of(ironwood.asList, [view(stock()), { show: "tag" }], 1),
        asRows: () => of(ironwood.asRows, [view(stock()), { edit: "row" }], 1),
        asKept: async () => of(ironwood.asKept, [await keep(table(plant, []), memoryStore(plant))]),
        asDraft: () => of(ironwood.asDraft, [keepDraft(entry(), memoryDrafts(), { name: "card" })]),
        askFor: () => of(ironwood.askFor, ["How many?", integer(), { title: "Count", signal: AbortSignal.abort() }], 2),
        chooseCommand: async () =>
          of(ironwood.chooseCommand, [await keep(table(plant, []), memoryStore(plant)), { title: "Choose" }], 1),
        adaptControl: () =>
          of(ironwood.adaptControl, ["x-none", { hears: ["change"], show: () => undefined, take: () => undefined }]),
        browserStore: () => of(ironwood.browserStore, ["nursery", plant, { by: "KM" }], 2),
        browserDrafts: () => of(ironwood.browserDrafts, [{ name: "drafts" }], 0),
        httpStore: () => of(ironwood.httpStore, ["http://localhost:1/rows", plant]),
        pickedFile: () => of(ironwood.pickedFile, [plant, "a.csv"]),
        shareTable: () => of(ironwood.shareTable, [stock(), "stock"]),
      };
      // A question without a signal waits for a person, who goes away.
      const leaving = setInterval(() => {
        for (const dialog of document.querySelectorAll("dialog")) dialog.close();
      }, 5);
      const elements = ["input", "p"].map((tag) => document.createElement(tag));
      const found = await faultsOf(() => {
        document.body.innerHTML = fresh;
        return calls[called]!();
      }, [...elements, document.createTextNode("x")]);
      clearInterval(leaving);
      return found;
    },
    [name, markup] as const,
  );
  expect(faults).toEqual([]);
  expect(errors.filter((error) => !error.includes("IronwoodError") && !error.includes("does not agree"))).toEqual([]);
});

test("every public call of the page and of the browser is in the list of this test", async () => {
  const { page } = await pageWith("");
  const all = await page.evaluate(() => Object.keys(ironwood));
  const missing = all.filter((name) =>
    /^(bind|as[A-Z]|askFor|adapt|choose.*Command|browser|http|picked|share)/.test(name),
  );
  expect(missing.filter((name) => !(names as readonly string[]).includes(name))).toEqual([]);
});
