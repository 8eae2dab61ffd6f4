/**
 * Every public call, given anything in place of each of its arguments and options: it takes it, or refuses it by an error of Ironwood's
 * own in words. It never fails by accident inside, and never passes over a null or an option that there is not.
 */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { type Call, faultsOf } from "./anythingElse.ts";
import * as ironwood from "../src/index.ts";
import * as store from "../src/store/index.ts";
import { fileDrafts, fileStore, folderStore } from "../src/files/index.ts";
import { rowsService } from "../src/serve/index.ts";
import { sqliteDatabase, sqliteStore } from "../src/sqlite/index.ts";
import { fillEntry, TerminalControl } from "../src/terminal/index.ts";
import { HeadlessControl } from "../src/testing/index.ts";

const { command, integer, model, newEntry, newHistory, number, rows, table, text, view } = ironwood;
const folder = mkdtempSync(join(tmpdir(), "ironwood-garbage-"));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const line = model({ species: text(), count: integer() });
const plant = model(
  { tag: text({ required: true }), count: integer(), place: integer(), height: number(), lines: rows(line) },
  { key: "tag" },
);
const row = (tag: string, more: object = {}) => ({ tag, count: 1, place: 1, height: 2, lines: [], ...more });
const flat = model({ tag: text({ required: true }) }, { key: "tag" });
const stock = () => table(plant, [row("A"), row("B", { place: 2 })], { history: newHistory() });
const shown = () => view(stock(), { orderBy: "place" });
const entry = () => newEntry(plant, { save: () => undefined });
const nothing = (): undefined => undefined;
const yes = (): true => true;
const places = { memory: () => store.memoryStore(plant), drafts: () => store.memoryDrafts() };
const signal = new AbortController().signal;

const called = (call: unknown, args: readonly unknown[], more: Omit<Call, "call" | "args"> = {}): Call => ({
  call: call as Call["call"],
  args,
  ...more,
});
const common = {
  title: "Tag",
  description: "As on its label.",
  required: true,
  examples: [],
  placeholder: "",
  readOnly: false,
};
const of = (on: object, name: string, args: readonly unknown[], more: Omit<Call, "call" | "args"> = {}): Call =>
  called((on as Record<string, (...all: unknown[]) => unknown>)[name]!.bind(on), args, more);

/** A property that can be set. */
const setting = (on: object, name: string, value: unknown, more: Omit<Call, "call" | "args"> = {}): Call =>
  called((given: unknown) => ((on as Record<string, unknown>)[name] = given), [value], more);
const kept = () => store.keep(table(plant, []), store.memoryStore(plant));
const asked = () => newEntry(model({ sum: integer({ saved: false }) }));

const calls: Readonly<Record<string, () => Call | Promise<Call>>> = {
  addLanguage: () => called(ironwood.addLanguage, [{ tag: "en-x-mine", messages: {} }], { options: 0 }),
  ask: () => called(ironwood.ask, ["Sure?", { yes: "Yes" }, { title: "Sure" }], { options: 2 }),
  attachControl: () => called(ironwood.attachControl, [entry().fields.tag, { show: nothing }]),
  boolean: () => called(ironwood.boolean, [{ ...common, unanswered: true, default: true }], { options: 0 }),
  choiceList: () => called(ironwood.choiceList, [["a"], { save: nothing }], { options: 1 }),
  choiceSearch: () => called(ironwood.choiceSearch, [() => []]),
  command: () => called(command, [{ title: "Save", run: nothing, allowed: yes }], { options: 0 }),
  "command of a model": () => called(command, [plant, { title: "Save", run: nothing, allowed: yes }], { options: 1 }),
  confirmed: () => called(ironwood.confirmed, ["Sure?", { yes: "Yes" }], { options: 1 }),
  date: () =>
    called(ironwood.date, [{ ...common, minimum: "2026-01-01", display: { dateStyle: "short" } }], { options: 0 }),
  dateTime: () => called(ironwood.dateTime, [{ ...common, maximum: "2026-01-01T10:00" }], { options: 0 }),
  decimal: () =>
    called(ironwood.decimal, [{ ...common, minimum: "0", multipleOf: "0.5", step: "1", unit: "meter" }], {
      options: 0,
    }),
  "Decimal.of": () => called(ironwood.Decimal.of, ["1.5"]),
  "Decimal.divide": () =>
    of(ironwood.Decimal.of("1.5"), "divide", ["2", { digits: 2, rounding: "trunc" }], { options: 1 }),
  editEntry: () => called(ironwood.editEntry, [shown(), { onLeave: "save" }], { options: 1 }),
  "editEntry of a row": () =>
    called(ironwood.editEntry, [plant, row("A"), { locale: "en", save: nothing }], { options: 2 }),
  "editEntry of a table": () => called(ironwood.editEntry, [stock(), "A", {}], { options: 2 }),
  explain: () => called(ironwood.explain, [entry()]),
  file: () => called(ironwood.file, [{ ...common, accept: "image/*", maximumSize: 5 }], { options: 0 }),
  follow: () => called(ironwood.follow, [() => 1, nothing, { signal }], { options: 2 }),
  followRows: () => called(ironwood.followRows, [stock(), nothing, { signal }], { options: 2 }),
  group: () => called(ironwood.group, [{ plot: text() }, { title: "Place" }], { options: 1 }),
  instant: () => called(ironwood.instant, [{ title: "Made", given: "created" }], { options: 0 }),
  integer: () => called(integer, [{ ...common, minimum: 0, maximum: 5, step: 1, const: 3 }], { options: 0 }),
  list: () => called(ironwood.list, [text(), { minItems: 0, maxItems: 2, uniqueItems: true }], { options: 1 }),
  mayLeave: () => called(ironwood.mayLeave, [entry(), { signal }], { options: 1 }),
  model: () => called(model, [{ tag: text() }, { key: "tag", title: "Plant" }], { options: 1 }),
  moveRows: () => called(ironwood.moveRows, [stock(), table(plant, []), ["A"], {}], { options: 3 }),
  newEntry: () =>
    called(newEntry, [plant, { values: {}, locale: "en", save: nothing, afterSave: "stay" }], { options: 1 }),
  newHistory: () => called(newHistory, [{ maxItems: 5 }], { options: 0 }),
  number: () =>
    called(number, [{ ...common, exclusiveMinimum: 0, display: { maximumFractionDigits: 1 } }], { options: 0 }),
  oneOf: () => called(ironwood.oneOf, [["a", "b"], { ...common, default: "a" }], { options: 1 }),
  pasteBlock: () => called(ironwood.pasteBlock, [shown(), [["x"]], { row: 0, columns: ["tag"] }], { options: 2 }),
  readBlock: () => called(ironwood.readBlock, ["a\tb"]),
  redoCommand: () => called(ironwood.redoCommand, [entry()]),
  reorderRows: () => called(ironwood.reorderRows, [shown(), ["A"], "B"], { free: [2] }),
  rows: () => called(rows, [line, { minItems: 0 }], { options: 1 }),
  rowsOf: () => called(ironwood.rowsOf, [entry(), "lines"]),
  setAsker: () => called(ironwood.setAsker, [{ ask: () => Promise.resolve("yes"), word: () => "Yes" }]),
  someOf: () => called(ironwood.someOf, [["a", "b"], { ...common, maxItems: 2 }], { options: 1 }),
  steps: () => called(ironwood.steps, [entry(), { first: ["tag"], second: ["count"] }]),
  table: () => called(table, [plant, [row("A")], { maxItems: 5, locale: "en", timeZone: "UTC" }], { options: 2 }),
  tell: () => called(ironwood.tell, ["Done.", { title: "Done", signal }], { options: 1 }),
  text: () =>
    called(text, [{ ...common, minLength: 1, maxLength: 5, pattern: "[A-Z]+", tidy: { trim: true } }], { options: 0 }),
  time: () => called(ironwood.time, [{ ...common, default: "10:00" }], { options: 0 }),
  transaction: () => called(ironwood.transaction, [nothing]),
  undoCommand: () => called(ironwood.undoCommand, [entry()]),
  view: () =>
    called(view, [stock(), { where: yes, orderBy: ["tag", "count"], search: "", searchIn: ["tag"] }], { options: 1 }),
  writeBlock: () => called(ironwood.writeBlock, [[["a"]]]),

  "model.calculated": () => of(plant, "calculated", [{ twice: () => 2 }]),
  "model.proposed": () => of(plant, "proposed", [{ count: () => 2 }]),
  "model.relevant": () => of(plant, "relevant", [{ count: yes }]),
  "model.required": () => of(plant, "required", [{ count: yes }]),
  "model.readOnly": () => of(plant, "readOnly", [{ count: yes }]),
  "model.choices": () => of(plant, "choices", [{ count: () => [1, 2] }]),
  "model.rule": () =>
    of(plant, "rule", ["few", { shownAt: ["count"], holds: yes, message: "Too few." }], { options: 1 }),
  "entry.check": () => of(entry(), "check", []),
  "field.enter": () => of(entry().fields.tag, "enter", ["A"]),
  "table.insert": () => of(stock(), "insert", [row("C")]),
  "table.update": () => of(stock(), "update", ["A", { count: 2 }]),
  "table.delete": () => of(stock(), "delete", ["A"]),
  "table.load": () => of(stock(), "load", [[row("C")]]),
  "table.get": () => of(stock(), "get", ["A"], { free: [0] }),
  "table.has": () => of(stock(), "has", ["A"], { free: [0] }),
  "view.total": () => of(shown(), "total", ["count"]),
  "view.groups": () => of(shown(), "groups", ["count"]),
  "view.placeOf": () => of(shown(), "placeOf", ["A"], { free: [0] }),
  "view.at": () => of(shown(), "at", [0]),
  "table.keyOf": () => of(stock(), "keyOf", [row("A")]),
  "table.problemsOf": () => of(stock(), "problemsOf", [row("A")]),
  "table.valueOf": () => of(stock(), "valueOf", [row("A"), "tag"]),
  "table.replaceAll": () => of(stock(), "replaceAll", [[row("C")]]),
  "view.has": () => of(shown(), "has", ["A"], { free: [0] }),
  "view.rows": () => of(shown(), "rows", [0, 1]),
  "view.keys": () => of(shown(), "keys", [0, 1]),
  "view.sortBy": () => of(shown(), "sortBy", ["tag desc", { signal }], { options: 1 }),
  "view.searchFor": () => of(shown(), "searchFor", ["a", { signal }], { options: 1 }),
  "view.toggle": () => of(shown(), "toggle", ["A", true]),
  "view.selectRange": () => of(shown(), "selectRange", ["A", "B"]),
  "view.where =": () => setting(shown(), "where", yes),
  "view.orderBy =": () => setting(shown(), "orderBy", "tag"),
  "view.search =": () => setting(shown(), "search", "a"),
  "view.currentKey =": () => setting(shown(), "currentKey", "A"),
  "view.selectedKeys =": () => setting(shown(), "selectedKeys", ["A"]),
  "entry.answer": () => of(asked(), "answer", ["sum", () => 5]),
  "entry.locale =": () => setting(entry(), "locale", "de"),
  "entry.values =": () => setting(entry().values, "count", 5, { free: [0] }),
  "field.choose": () => of(entry().fields.count, "choose", [5], { free: [0] }),
  "field.resolve": () => of(entry().fields.count, "resolve", ["mine"]),
  "choiceList.add": () => of(ironwood.choiceList(["a"]), "add", ["b", { locale: "en" }], { options: 1 }),
  "choiceList.load": () => of(ironwood.choiceList(["a"]), "load", [["b"]]),
  "command.run": () => of(command({ run: nothing }), "run", [{ confirmed: true }], { options: 0 }),
  "steps.goTo": () => of(ironwood.steps(entry(), { first: ["tag"], second: ["count"] }), "goTo", ["second"]),
  "notices.say": () => of(ironwood.notices, "say", ["Saved.", "information"]),
  "kept.write": async () => of(await kept(), "write", [{ signal }], { options: 0 }),
  "kept.reload": async () => of(await kept(), "reload", [{ signal }], { options: 0 }),
  "kept.revert": async () => of(await kept(), "revert", []),
  "kept.unsavedOf": async () => of(await kept(), "unsavedOf", ["A"], { free: [0] }),
  "model.formerly": () => of(plant, "formerly", [{ fields: { tag: "label" } }], { options: 0 }),

  keep: () => called(store.keep, [table(plant, []), places.memory(), { writeAfter: 5 }], { options: 2 }),
  keepDraft: () => called(store.keepDraft, [entry(), places.drafts(), { name: "card" }], { options: 2 }),
  keepTogether: () =>
    called(store.keepTogether, [{ plants: table(flat, []) }, sqliteDatabase(join(folder, "together.db")), {}], {
      options: 2,
    }),
  sqliteDatabase: () => called(sqliteDatabase, [join(folder, "b.db"), { by: "KM" }], { options: 1 }),
  loadRows: () =>
    called(store.loadRows, [stock(), "tag,count\nC,1\n", { format: "csv", onBad: "skip", into: "replace" }], {
      options: 2,
    }),
  memoryDrafts: () => called(store.memoryDrafts, []),
  memoryStore: () => called(store.memoryStore, [plant, {}], { options: 1 }),
  writeCommand: async () => called(store.writeCommand, [await store.keep(table(plant, []), places.memory())]),
  fromJson: () => called(store.fromJson, [plant, { tag: "A" }], { free: [1] }),
  toJson: () => called(store.toJson, [plant, row("A")]),
  fileStore: () => called(fileStore, [join(folder, "a.csv"), plant, {}], { options: 2 }),
  folderStore: () =>
    called(folderStore, [join(folder, "all"), plant, { fileName: ["tag"], whenExists: "number" }], { options: 2 }),
  fileDrafts: () => called(fileDrafts, [join(folder, "drafts")]),
  sqliteStore: () => called(sqliteStore, [join(folder, "a.sqlite"), plant, {}], { options: 2 }),
  rowsService: () => called(rowsService, [places.memory(), plant, {}], { options: 2 }),
  fillEntry: () =>
    called(fillEntry, [newEntry(flat, { save: nothing }), { ask: () => Promise.resolve("A"), write: nothing }]),
};

describe("anything in place of what is right", () => {
  beforeAll(() => void ironwood.setAsker({ ask: () => Promise.resolve("yes"), word: (name) => name }));

  test.each(Object.entries(calls))("%s", async (_name, make) => {
    expect(await faultsOf(make)).toEqual([]);
  });
});

test("every public call of the core and of keeping is in the list of this test", () => {
  const classes = ["ChoiceList", "Decimal", "IronwoodError", "StoreError"];
  const names = [...Object.keys(ironwood), ...Object.keys(store)].filter(
    (name) => !classes.includes(name) && name !== "notices",
  );
  expect(names.filter((name) => !(name in calls))).toEqual([]);
  expect([TerminalControl, HeadlessControl].length).toBe(2);
});
