import { describe, expect, test } from "@jest/globals";
import { internal } from "../src/engine/index.ts";
import {
  editEntry,
  follow,
  integer,
  model,
  newEntry,
  newHistory,
  notices,
  type RowOf,
  setAsker,
  table,
  text,
  transaction,
  view,
} from "../src/index.ts";
import { HeadlessControl } from "../src/testing/index.ts";
import { openEntries } from "../src/rows/index.ts";
import type { TableState } from "../src/table/index.ts";

const plant = model(
  {
    tag: text({ title: "Tag", required: true }),
    species: text({ title: "Species" }),
    count: integer({ title: "Plants", minimum: 0 }),
  },
  { title: "Plant", key: "tag" },
);
type Plant = RowOf<typeof plant>;
const rows: Plant[] = [
  { tag: "A", species: "Acer", count: 1 },
  { tag: "B", species: "Betula", count: 2 },
  { tag: "C", species: "Corylus", count: 3 },
];
const begin = () => table(plant, rows, { locale: "en", history: newHistory() });
const tags = (all: Iterable<Plant>): string => [...all].map(({ tag }) => tag).join("");

describe("an entry over a row of a table", () => {
  test("saves into the table, is a step of its own to undo, and sees what comes back", async () => {
    const stock = begin();
    const entry = editEntry(stock, "B");
    entry.fields.count.enter("x");
    expect([await entry.save(), stock.get("B")!.count]).toMatchObject([{ ok: false }, 2]);
    entry.fields.count.enter("7");
    entry.fields.species.enter("Betula nana");
    expect([(await entry.save()).ok, stock.get("B")]).toEqual([true, { tag: "B", species: "Betula nana", count: 7 }]);
    expect(entry.changed).toBe(false);
    stock.history!.undo();
    expect([stock.get("B"), entry.values.count, entry.changed]).toEqual([rows[1], 2, false]);
    stock.history!.redo();
    expect([entry.values.count, entry.values.species]).toEqual([7, "Betula nana"]);
  });

  test("a change from elsewhere is seen, but not over what a person has changed here", () => {
    const stock = begin();
    const entry = editEntry(stock, "B");
    entry.fields.count.enter("9");
    stock.update("B", { species: "Betula pendula", count: 4 });
    expect([entry.values.species, entry.values.count, entry.changes()]).toEqual(["Betula pendula", 9, { count: 9 }]);
    entry.revert();
    expect(entry.values.count).toBe(4);
  });

  test("who follows a change is told its field, control and row, and both values", () => {
    const stock = begin();
    const entry = editEntry(stock, "B");
    const control = new HeadlessControl(entry.fields.count);
    const told: unknown[] = [];
    const following = follow(
      () => entry.values.count,
      (value, before, { cause, field, control: by, row }) =>
        void told.push([value, before, cause, field === entry.fields.count, by === control, row]),
    );
    control.type("7");
    stock.update("B", { species: "Betula nana" });
    control.type("8");
    entry.revert();
    const now = { tag: "B", species: "Betula nana", count: 2 };
    expect(told).toEqual([
      [7, 2, "typed", true, true, rows[1]],
      [8, 7, "typed", true, true, now],
      [2, 8, "revert", true, false, now],
    ]);
    following.stop();
    const alone = newEntry(plant);
    follow(
      () => alone.values.count,
      (...[, , { row }]) => void told.push(row),
    );
    alone.fields.count.enter("3");
    expect(told.at(-1)).toBeUndefined();
  });

  test("a key that is taken is a problem at its field until the field is another, and nothing is written", async () => {
    const stock = begin();
    const entry = editEntry(stock, "B");
    entry.values.tag = "A";
    expect(await entry.save()).toMatchObject({ ok: false, problems: [{ code: "keyTaken", pointer: "/tag" }] });
    expect(entry.fields.tag.visibleProblems).toMatchObject([{ code: "keyTaken", message: "A is there already." }]);
    entry.values.tag = "D";
    expect(entry.fields.tag.problems).toEqual([]);
    expect([(await entry.save()).ok, tags(stock), entry.key]).toEqual([true, "ADC", "D"]);
    entry.values.tag = "A";
    await entry.save();
    stock.delete("A");
    expect((await entry.save()).ok).toBe(true);
  });

  test("a row that is gone can't be changed until it is back", () => {
    const stock = begin();
    const entry = editEntry(stock, "B");
    stock.delete("B");
    expect([entry.readOnly, entry.reason, entry.key]).toEqual([true, "This row is not there any more.", undefined]);
    stock.history!.undo();
    expect([entry.readOnly, entry.key, entry.values.count]).toEqual([false, "B", 2]);
  });

  test("is shared by all that edit the same row, and released when it is stopped", () => {
    const stock = begin();
    const entry = editEntry(stock, "B");
    expect(editEntry(stock, "B")).toBe(entry);
    expect(openEntries(stock[internal] as TableState)).toHaveLength(1);
    entry.stop();
    expect([openEntries(stock[internal] as TableState).length, stock[internal].keptInPlace.size]).toEqual([0, 0]);
    expect(editEntry(stock, "B")).not.toBe(entry);
    expect(() => editEntry(stock, "Z")).toThrow(/no row with the key "Z".*"Plant"/s);
  });

  test("its row stays in its place in every view while it is changed, and the totals follow", () => {
    const stock = begin();
    const few = view(stock, { where: ({ count }) => (count ?? 0) < 4, orderBy: "species desc" });
    expect([tags(few), few.total("count")]).toEqual(["CBA", 6]);
    const entry = editEntry(stock, "B");
    entry.fields.count.enter("3");
    stock.update("B", { species: "Zelkova", count: 10 });
    expect([tags(few), few.total("count")]).toEqual(["CBA", 14]);
    few.where = ({ count }) => (count ?? 0) < 3;
    expect(tags(few)).toBe("BA");
    few.where = undefined;
    expect(tags(few)).toBe("BCA");
    stock.update("B", { species: "Abies" });
    expect(tags(few)).toBe("BCA");
    stock.insert({ tag: "D", species: "Daphne", count: 1 });
    expect(tags(few)).toBe("BDCA");
    entry.revert();
    expect([tags(few), few.total("count")]).toEqual(["DCAB", 15]);
  });
});

describe("an entry over the current row of a view", () => {
  test("follows it, and is saved on leaving; what can't be saved stays, with the reason", () => {
    const stock = begin();
    const all = view(stock, { orderBy: "tag" });
    const details = editEntry(all);
    expect([details.readOnly, details.reason]).toEqual([true, "Choose a row first."]);
    all.currentKey = "A";
    expect([details.values.species, details.readOnly]).toEqual(["Acer", false]);
    details.fields.count.enter("5");
    all.currentKey = "C";
    expect([stock.get("A")!.count, details.values.species, details.changed]).toEqual([5, "Corylus", false]);
    details.fields.count.enter("many");
    all.currentKey = "A";
    expect([all.currentKey, details.fields.count.text, details.visibleProblems.length]).toEqual(["C", "many", 1]);
    expect(notices.latest?.text).toMatch(/^C is not saved: .*whole number/);
    details.revert();
    all.currentKey = "A";
    expect(details.key).toBe("A");
    stock.delete("A");
    expect([details.key, details.values.species]).toEqual(["B", "Betula"]);
    stock.clear();
    expect([details.key, details.readOnly]).toEqual([undefined, true]);
  });

  test("asks first where it is told to, and stays until it is answered", async () => {
    const stock = begin();
    const all = view(stock);
    all.currentKey = "A";
    const details = editEntry(all, { onLeave: "ask" });
    let answer = "stay";
    const asked: string[] = [];
    const end = setAsker({
      ask: (question: { text: string }) => {
        asked.push(question.text);
        return Promise.resolve(answer);
      },
      word: (name) => name,
    });
    try {
      details.fields.count.enter("5");
      all.currentKey = "B";
      await new Promise((done) => setTimeout(done));
      expect([all.currentKey, details.key, asked]).toEqual(["A", "A", ["Plant has changes that are not saved."]]);
      answer = "save";
      all.currentKey = "B";
      await new Promise((done) => setTimeout(done));
      expect([all.currentKey, stock.get("A")!.count, details.values.count]).toEqual(["B", 5, 2]);
      answer = "leave";
      details.fields.count.enter("x");
      all.currentKey = "C";
      await new Promise((done) => setTimeout(done));
      expect([details.key, stock.get("B")!.count]).toEqual(["C", 2]);
    } finally {
      end.stop();
    }
  });

  test("stays where it is told to, and says why", () => {
    const stock = begin();
    const all = view(stock);
    all.currentKey = "A";
    const details = editEntry(all, { onLeave: "stay" });
    details.fields.count.enter("5");
    all.currentKey = "B";
    expect([all.currentKey, details.key]).toEqual(["A", "A"]);
    expect(notices.latest?.text).toMatch(/^A was changed/);
  });

  test("follows a row that gets another key, and one that leaves the view", () => {
    const stock = begin();
    const few = view(stock, { where: ({ count }) => (count ?? 0) < 3 });
    few.currentKey = "B";
    const details = editEntry(few);
    stock.update("B", { tag: "BB" });
    expect([few.currentKey, details.key, details.values.tag]).toEqual(["BB", "BB", "BB"]);
    stock.update("BB", { count: 9 });
    expect([few.currentKey, details.key]).toEqual(["A", "A"]);
  });
});

describe("a new entry that is inserted into a table", () => {
  test("is refused with what the table says, at the field, and begins anew when it is taken", async () => {
    const stock = begin();
    const entry = newEntry(plant, { locale: "en", save: (row) => stock.insert(row), afterSave: "startNew" });
    entry.fields.tag.enter("A");
    expect(await entry.save()).toMatchObject({ ok: false, problems: [{ code: "keyTaken" }] });
    expect(entry.fields.tag.visibleProblems).toMatchObject([{ code: "keyTaken" }]);
    entry.fields.tag.enter("E");
    expect(await entry.save()).toMatchObject({ ok: true, said: "Saved E." });
    expect([entry.values.tag, tags(stock)]).toEqual(["", "ABCE"]);
  });

  test("a save inside a transaction that is refused takes it back", () => {
    const stock = begin();
    const result = transaction(() => {
      stock.update("A", { count: 8 });
      stock.insert({ tag: "B" });
    });
    expect([result.ok, stock.get("A")!.count]).toEqual([false, 1]);
  });
});

describe("an entry whose row others delete while something is entered in it", () => {
  const plants = model(
    { tag: text({ required: true }), name: text({ title: "Name" }) },
    { title: "Plant", key: "tag" },
  );
  const begin = (onLeave: "save" | "ask" | "stay") => {
    const rows = ["a", "b", "c"].map((tag) => ({ tag, name: `name ${tag}` }));
    const stock = table(plants, rows, { locale: "en" });
    const shown = view(stock);
    shown.currentKey = "a";
    return { stock, shown, entry: editEntry(shown, { onLeave }) };
  };
  const said = () => notices.history.at(-1)?.text;

  for (const onLeave of ["save", "ask", "stay"] as const)
    test(`stays there with it, and says so; going to a row names what is not saved (onLeave: ${onLeave})`, async () => {
      const { stock, shown, entry } = begin(onLeave);
      entry.fields.name.enter("Alder");
      stock.delete("a");
      expect([shown.currentKey, entry.key, entry.fields.name.text, entry.changed]).toEqual([
        "b",
        undefined,
        "Alder",
        true,
      ]);
      expect(said()).toBe("a was deleted meanwhile. What is entered here can be copied, but not saved.");
      expect(entry.readOnly).toBe(true);
      expect((await entry.save()).ok).toBe(false);
      shown.currentKey = "c";
      expect([entry.key, entry.fields.name.text, entry.changed]).toEqual(["c", "name c", false]);
      expect(said()).toBe("a was deleted meanwhile, so this is not saved: Name: Alder.");
      expect(stock.get("b")?.name).toBe("name b");
    });

  test("goes to the current row once what was entered is taken back", () => {
    const { stock, shown, entry } = begin("save");
    entry.fields.name.enter("Alder");
    stock.delete("a");
    entry.revert();
    expect([entry.key, entry.fields.name.text]).toEqual(["b", "name b"]);
    entry.fields.name.enter("Oak");
    stock.clear();
    expect([entry.key, entry.fields.name.text]).toEqual([undefined, "Oak"]);
    entry.revert();
    expect([entry.key, shown.currentKey, entry.changed]).toEqual([undefined, undefined, false]);
  });
});
