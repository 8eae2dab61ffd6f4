/** Builders' mistakes in every call of the core: each is an error of Ironwood's own that says what would be right. */
import { describe, expect, jest, test } from "@jest/globals";
import {
  addLanguage,
  boolean,
  choiceList,
  choiceSearch,
  command,
  date,
  decimal,
  editEntry,
  explain,
  file,
  follow,
  followRows,
  group,
  instant,
  integer,
  IronwoodError,
  list,
  model,
  moveRows,
  newEntry,
  newHistory,
  number,
  oneOf,
  pasteBlock,
  readBlock,
  reorderRows,
  rows,
  rowsOf,
  someOf,
  steps,
  table,
  text,
  time,
  transaction,
  view,
} from "../src/index.ts";
import { platform } from "../src/engine/index.ts";
import { fileStore, folderStore } from "../src/files/index.ts";
import { rowsService } from "../src/serve/index.ts";
import { loadRows } from "../src/store/index.ts";
import { fillEntry } from "../src/terminal/index.ts";

const plant = model({ tag: text({ required: true }), count: integer() }, { key: "tag" });
const stock = table(plant, [{ tag: "A", count: 1 }]);
const shown = view(stock);
const nothing = null as never;

/** Calls as a builder might write them by mistake, and what is told. */
const calls: Readonly<Record<string, readonly [call: () => unknown, told: RegExp]>> = {
  "model without fields": [
    () => model(nothing),
    /^model was given something else\. Received null\. Right would be an object with a kind/,
  ],
  "model with a forgotten pair of parentheses": [
    () => model({ a: text as never, b: date(), c: number as never }),
    /"a" is the function text, which has to be called: text\(\); "c" is the function number, which has to be called: number\(\)/,
  ],
  "model, options": [
    () => model({ a: text() }, { kee: "a" } as never),
    /The option of model "kee" is not known\. Did you mean "key"\?/,
  ],
  "text, options": [() => text({ requird: true } as never), /option of text\(\) "requird".*Did you mean "required"/s],
  "text, two wrong options": [
    () => text({ requird: true, maxLength: "5" as never } as never),
    /"requird".*The option maxLength of text\(\) can't be this\. Received "5"\. Right would be a whole number/s,
  ],
  "number, display": [
    () => number({ display: { style: "percnt" as never } }),
    /The option display of number\(\) can't be this/,
  ],
  "date, display": [
    () => date({ display: { dateStyle: "longer" as never } }),
    /The option display of date\(\) can't be this/,
  ],
  "instant, display": [() => instant({ display: 5 as never }), /The option display of instant\(\)/],
  "boolean, options": [() => boolean({ required: "yes" as never }), /required of boolean\(\).*true or false/s],
  "decimal, options": [() => decimal({ minimumm: "0" } as never), /"minimumm".*Did you mean "minimum"/s],
  "integer, options": [() => integer({ minumum: 0 } as never), /"minumum".*Did you mean "minimum"/s],
  "time, options": [() => time({ title: 5 as never }), /title of time\(\)/],
  "file, options": [() => file({ maximumsize: 5 } as never), /Did you mean "maximumSize"/],
  "oneOf without choices": [() => oneOf(nothing), /oneOf\(\) needs a list of choices/],
  "someOf, options": [() => someOf(["a"], { minitems: 1 } as never), /Did you mean "minItems"/],
  "list without a kind": [() => list(text as never), /^list was given something else\. Received the function text/],
  "group without fields": [() => group(nothing), /^group was given something else/],
  "rows without a model": [() => rows(text() as never), /^rows was given something else.*Right would be a model/s],
  "a calculation that is async": [
    () => plant.calculated({ late: async () => 5 }),
    /\.calculated\(\) for "late" was given something else.*is not async/s,
  ],
  "a calculation that is none": [() => plant.calculated({ late: 5 as never }), /for "late".*a function of the row/s],
  "a condition that is none": [() => plant.relevant({ count: true as never }), /\.relevant\(\) for "count"/],
  "a rule without a function": [
    () => plant.rule("few", {} as never),
    /\.rule\("few"\) was given something else.*holds/s,
  ],
  "a rule, options": [
    () => plant.rule("few", { hold: () => true, holds: () => true } as never),
    /"hold".*Did you mean "holds"/s,
  ],
  "newEntry without a model": [
    () => newEntry(nothing),
    /^newEntry was given something else\. Received null\. Right would be a model/,
  ],
  "newEntry, options": [
    () => newEntry(plant, { onSave: () => "" } as never),
    /The option of newEntry "onSave" is not known.*The names are: values, save/s,
  ],
  "newEntry, a wrong value": [
    () => newEntry(plant, { afterSave: "close" as never }),
    /Right would be "stay" or "startNew"/,
  ],
  "newEntry, locale": [() => newEntry(plant, { locale: "english please" }), /locale of newEntry.*BCP 47/s],
  "editEntry of nothing": [() => editEntry(nothing, nothing), /^editEntry was given something else/],
  "editEntry, options of a view": [() => editEntry(shown, { onleave: "ask" } as never), /Did you mean "onLeave"/],
  "editEntry, options of a table": [
    () => editEntry(stock, "A", { save: () => "" } as never),
    /option of editEntry "save" is not known/,
  ],
  "editEntry without a row": [
    () => editEntry(plant, nothing),
    /^editEntry was given something else.*a row of the model/s,
  ],
  "table without a model": [() => table(nothing), /^table was given something else/],
  "table, rows": [() => table(plant, {} as never), /^table was given something else.*a list of rows/s],
  "table, options": [() => table(plant, [], { maxitems: 3 } as never), /Did you mean "maxItems"/],
  "view of nothing": [() => view(nothing), /^view was given something else.*a table or a view/s],
  "view, options": [
    () => view(stock, { filter: () => true } as never),
    /option of view "filter".*The names are: where, orderBy, search, searchIn/s,
  ],
  "view, where": [() => view(stock, { where: { tag: "A" } as never }), /where of view.*a function/s],
  "insert nothing": [() => stock.insert(nothing), /^insert was given something else/],
  "insert a wrong type": [() => stock.insert({ tag: "B", count: "1" as never }), /The field "count" was given "1"/],
  "update with nothing": [() => stock.update("A", nothing), /^update was given something else/],
  "load nothing": [() => stock.load(nothing), /^load was given something else/],
  "followRows of nothing": [() => followRows(nothing, () => undefined), /^followRows was given something else/],
  "followRows, no function": [() => followRows(stock, nothing), /^followRows was given something else.*a function/s],
  "follow no function": [() => follow(5 as never, () => undefined), /^follow was given something else/],
  "follow, options": [
    () =>
      follow(
        () => 1,
        () => undefined,
        { name: "x" } as never,
      ),
    /option of follow "name" is not known/,
  ],
  "transaction without a function": [() => transaction(nothing), /^transaction was given something else/],
  "newHistory, options": [() => newHistory({ limit: 5 } as never), /option of newHistory "limit".*maxItems/s],
  "choiceList of nothing": [() => choiceList(5 as never), /^choiceList was given something else/],
  "choiceList, options": [() => choiceList([], { onAdd: () => 1 } as never), /option of choiceList "onAdd"/],
  "choiceSearch without a function": [() => choiceSearch(nothing), /^choiceSearch was given something else/],
  "addLanguage of nothing": [() => addLanguage(nothing), /^addLanguage was given something else/],
  "addLanguage, tag": [() => addLanguage({ tag: "deutsch bitte", messages: {} }), /tag of addLanguage/],
  "command without run": [
    () => command({ title: "Save" } as never),
    /^command was given something else.*run, a function/s,
  ],
  "command, options": [
    () => command({ enabled: () => true, run: () => undefined } as never),
    /option of command "enabled" is not known/,
  ],
  "a row's command of nothing": [
    () => command(nothing, { title: "x", run: () => undefined }),
    /^command was given something else.*a model/s,
  ],
  "moveRows from nothing": [() => moveRows(nothing, stock, []), /^moveRows was given something else.*a table/s],
  "moveRows, options": [() => moveRows(stock, stock, [], { quantiy: "count" } as never), /Did you mean "quantity"/],
  "reorderRows of nothing": [() => reorderRows(nothing, []), /^reorderRows was given something else.*a view/s],
  "pasteBlock, options": [
    () => pasteBlock(shown, [], { row: 0, cols: [], columns: [] } as never),
    /option of pasteBlock "cols".*columns/s,
  ],
  "readBlock of nothing": [() => readBlock(nothing), /^readBlock was given something else/],
  "rowsOf nothing": [() => rowsOf(nothing, "lines"), /^rowsOf was given something else.*an entry/s],
  "steps of nothing": [() => steps(nothing, {}), /^steps was given something else.*an entry/s],
  "explain nothing": [() => explain(nothing), /explain\(\) was given something that it can't explain/],
  "fileStore, options": [
    () => fileStore("a.csv", plant, { whenExists: "overwrite" } as never),
    /option of fileStore "whenExists"/,
  ],
  "fileStore without a model": [() => fileStore("a.csv", nothing), /^fileStore was given something else/],
  "folderStore, a wrong value": [
    () => folderStore("a", plant, { fileName: ["tag"], whenExists: "overwrite" as never }),
    /whenExists of folderStore.*"refuse", "number" or "replace"/s,
  ],
  "rowsService of nothing": [() => rowsService(nothing, plant), /^rowsService was given something else.*a store/s],
};

describe("a builder's mistake is told in words", () => {
  test.each(Object.entries(calls))("%s", (_, [call, told]) => {
    let error: unknown;
    try {
      call();
    } catch (caught) {
      error = caught;
    }
    expect(error).toBeInstanceOf(IronwoodError);
    expect((error as Error).message).toMatch(told);
  });

  test("also of calls that answer later", async () => {
    await expect(loadRows(nothing, "")).rejects.toThrow(/^loadRows was given something else.*a table/s);
    await expect(loadRows(stock, "tag\nA", { onbad: "stop" } as never)).rejects.toThrow(/Did you mean "onBad"/);
    await expect(fillEntry(nothing, nothing)).rejects.toThrow(/^fillEntry was given something else/);
    await expect(fillEntry(newEntry(plant), nothing)).rejects.toThrow(/a terminal that can ask and write/);
  });

  test("what a calculation throws is told with its reason, and a ring in a table by its names", () => {
    const told: string[] = [];
    const report = jest
      .spyOn(platform, "report")
      .mockImplementation((error) => void told.push((error as Error).message));
    const odd = plant.calculated({
      wrong: (row) => {
        throw new Error(`nothing is known of ${row.tag}`);
      },
    });
    expect(newEntry(odd, { values: { tag: "A" } }).values.wrong).toBeUndefined();
    expect(told).toEqual(['The calculation of "wrong" threw: nothing is known of A.']);
    report.mockRestore();
    const ring = plant.calculated({ a: (row) => (row as { b?: number }).b ?? 0 }).calculated({ b: (row) => row.a + 1 });
    const rows = table(ring, [{ tag: "A", count: 1 }]);
    expect(() => rows.valueOf([...rows][0]!, "a")).toThrow(/read each other in a ring: a → b → a/);
  });
});
