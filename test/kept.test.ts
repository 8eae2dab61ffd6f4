/** What is kept is what was checked and said: saving, undoing, and what a row is made of. */
import { describe, expect, test } from "@jest/globals";
import {
  boolean,
  command,
  editEntry,
  type Entry,
  follow,
  group,
  integer,
  list,
  model,
  newEntry,
  newHistory,
  rows,
  someOf,
  table,
  text,
  time,
  view,
} from "../src/index.ts";
import { pressSave } from "../src/control/index.ts";
import { notices } from "../src/command/index.ts";
import { StoreError } from "../src/store/index.ts";

const card = model(
  {
    tag: text({ required: true }),
    girth: integer({ maximum: 900 }),
    fenced: boolean(),
    fenceCost: integer(),
    names: list(text()),
    hazards: someOf(["leaning", "cavity"]),
    lines: rows(model({ species: text(), count: integer() })),
    place: group({ plot: text({ title: "Plot" }), row: integer() }),
    looked: boolean({ title: "Looked", required: true, saved: false }),
  },
  { title: "Tree card" },
).relevant({ fenceCost: (row) => row.fenced });

describe("nothing is called saved that went nowhere", () => {
  test("an entry without save refuses with a reason, keeps what was entered, and says so", async () => {
    const entry = newEntry(model({ tag: text() }, { title: "Card" }), { locale: "en", afterSave: "startNew" });
    entry.fields.tag.enter("AB-0042");
    expect(await entry.save()).toMatchObject({
      ok: false,
      problems: [{ code: "notSaved", message: expect.stringMatching(/there is no place yet where this is kept/) }],
    });
    expect([entry.values.tag, entry.changed]).toEqual(["AB-0042", true]);
    expect((await pressSave(entry as never)).what).toBe("failed");
    expect(notices.latest?.text).toMatch(/no place yet/);
    expect((await editEntry(model({ tag: text() }), { tag: "A" }).save()).ok).toBe(true);
  });

  test("allowed keeps it from being saved, whoever saves, with its reason", async () => {
    const saved: unknown[] = [];
    const entry: Entry<typeof card> = newEntry(card, {
      locale: "en",
      values: { tag: "A", looked: true },
      save: (row) => void saved.push(row),
      allowed: (): true | string => entry.values.girth !== undefined || "Measure it first.",
    });
    const press = command({ run: async () => ((await entry.save()).ok ? "saved" : "refused") });
    expect((await press.run()).said).toBe("refused");
    expect(await entry.save()).toMatchObject({ problems: [{ code: "notAllowed", message: "Measure it first." }] });
    entry.values.girth = 31;
    expect([(await press.run()).said, saved.length]).toEqual(["saved", 1]);
  });

  test("to try again is said only where that may help; a model without a title is not called by nothing", async () => {
    const failing = (reason: unknown) =>
      newEntry(model({ tag: text() }), { locale: "en", save: () => Promise.reject(reason as Error) });
    const said = async (reason: unknown) => {
      const result = await failing(reason).save();
      return result.ok ? "" : result.problems[0]!.message;
    };
    expect(await said(new StoreError("refused", "The file A.json is there already."))).toBe(
      "Not saved: The file A.json is there already. What you entered is still here.",
    );
    expect(await said(new StoreError("unreachable", "The service can't be reached."))).toMatch(/; try again\.$/);
    const kept = newEntry(model({ tag: text() }), { locale: "en", save: () => undefined });
    expect(await kept.save()).toMatchObject({ said: "Saved." });
    const placed = newEntry(model({ tag: text() }), {
      locale: "en",
      save: () => ({ place: "trees/a.csv", notice: "Look." }),
    });
    expect(await placed.save()).toMatchObject({ said: "Saved to trees/a.csv. Look." });
  });
});

describe("a row is made of what it was given then", () => {
  test("a list that is changed later changes nothing in an entry or a table", () => {
    const names = ["oak"];
    const lines = [{ species: "Acer", count: 1 }];
    const entry = newEntry(card, { values: { tag: "A", names } });
    entry.values.hazards = ["leaning"];
    entry.values.lines = lines;
    names.push("added");
    lines[0]!.count = 99;
    lines.push({ species: "Tilia", count: 2 });
    expect([entry.values.names, entry.values.lines]).toEqual([["oak"], [{ species: "Acer", count: 1 }]]);
    expect(() => (entry.values.hazards as string[]).push("cavity")).toThrow(TypeError);
    const more = ["ash"];
    const cards = table(card, []);
    const added = cards.insert({ tag: "A", names: more });
    more.push("added");
    expect([added.ok && added.row.names, [...cards][0]!.names]).toEqual([["ash"], ["ash"]]);
  });

  test("a group is set as a whole: one change, one step to undo, and nothing of it where a part is wrong", () => {
    const entry = newEntry(card, { values: { place: { plot: "7", row: 1 } } });
    const seen: unknown[] = [];
    follow(
      () => [entry.values.place.plot, entry.values.place.row],
      (value) => void seen.push(value),
    );
    entry.values.place = { plot: "8", row: 2 };
    expect(seen).toEqual([["8", 2]]);
    expect(() => (entry.values.place = { plot: "9", row: "two" as never })).toThrow(/"place\.row" was given "two"/);
    expect([entry.values.place.plot, seen.length]).toEqual(["8", 1]);
    entry.undo();
    expect([entry.values.place.plot, entry.values.place.row, entry.undo().ok]).toEqual(["7", 1, false]);
  });

  test("typing what is there already is nothing to undo, and what was undone can still be done again", () => {
    const entry = newEntry(card, { locale: "en", values: { girth: 31 } });
    entry.values.girth = 40;
    entry.undo();
    const control = {};
    entry.fields.girth.enter("31");
    expect([entry.history.undoes, entry.redo().ok, entry.values.girth]).toEqual([undefined, true, 40]);
    entry.fields.girth.enter("4");
    entry.fields.girth.enter("40");
    expect([entry.values.girth, control]).toEqual([40, {}]);
    expect(() => entry.fields.girth.enter(31 as never)).toThrow(
      /"girth" was entered 31.*a text, as a person types it/s,
    );
    expect(entry.values.girth).toBe(40);
  });

  test("what is changed and what is saved agree where fields are not relevant", () => {
    const row = {
      tag: "A",
      girth: 1,
      fenced: true,
      fenceCost: 48,
      names: [],
      hazards: [],
      lines: [] as never[],
      place: { plot: "", row: 1 },
    };
    const entry = editEntry(card, row);
    entry.values.fenced = false;
    expect([entry.row().fenceCost, entry.changes()]).toEqual([undefined, { fenced: false, fenceCost: null }]);
    entry.values.fenceCost = 50;
    expect(entry.changes()).toEqual({ fenced: false, fenceCost: null });
    entry.values.fenced = true;
    expect([entry.row().fenceCost, entry.changes()]).toEqual([50, { fenceCost: 50 }]);
    const fresh = newEntry(card);
    fresh.values.fenceCost = 50;
    expect([fresh.row().fenceCost, fresh.changes()]).toEqual([undefined, {}]);
  });

  test("a field of the window only shows what is wrong when it is left, and rules are sure of its value", () => {
    const window = model({
      amount: integer({ required: true, saved: false, minimum: 1 }),
      total: integer(),
    }).calculated({
      double: (row) => row.amount * 2,
    });
    const entry = newEntry(window, { locale: "en" });
    entry.fields.amount.enter("0");
    entry.fields.amount.leave();
    expect(entry.fields.amount.visibleProblems.map(({ code }) => code)).toEqual(["rangeUnderflow"]);
    expect([entry.changed, entry.values.double, entry.row()]).toEqual([false, 0, { total: undefined }]);
  });
});

describe("rows of a table", () => {
  const plant = model(
    { tag: text({ required: true }), height: integer({ minimum: 0 }), notes: text() },
    { key: "tag" },
  );

  test("that were loaded with a problem can be changed in everything else; only new problems refuse", () => {
    const stock = table(plant, [{ tag: "A", height: -5, notes: "" }], { locale: "en", history: newHistory() });
    expect(stock.update("A", { notes: "by the wall" }).ok).toBe(true);
    expect(stock.update("A", { height: -6 }).ok).toBe(true);
    expect(stock.update("A", { height: 3 }).ok).toBe(true);
    expect(stock.update("A", { height: -5 })).toMatchObject({ ok: false, problems: [{ code: "rangeUnderflow" }] });
  });

  test("times are unique and sorted by what they mean", () => {
    const visit = model({ tag: text({ required: true }), at: time() }, { key: "tag" });
    const visits = table(visit, [], { locale: "en", unique: ["at"] });
    expect(visits.insert({ tag: "A", at: "08:00" }).ok).toBe(true);
    expect(visits.insert({ tag: "B", at: "08:00:00" })).toMatchObject({ ok: false, problems: [{ code: "duplicate" }] });
    visits.insert({ tag: "C", at: "08:00:30" });
    visits.insert({ tag: "D", at: "07:59:59" });
    expect(view(visits, { orderBy: "at" }).keys()).toEqual(["D", "A", "C"]);
  });
});
