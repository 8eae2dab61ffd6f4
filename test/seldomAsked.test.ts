/** What is asked seldom of entries, tables and controls: sums that change their kind, a list whose ends are reached, broken conditions. */
import { describe, expect, jest, test } from "@jest/globals";
import {
  ask,
  boolean,
  date,
  decimal,
  Decimal,
  editEntry,
  file,
  follow,
  instant,
  integer,
  model,
  newEntry,
  newHistory,
  number,
  oneOf,
  pasteBlock,
  rows,
  steps,
  table,
  text,
  time,
  transaction,
  view,
} from "../src/index.ts";
import { keyLetter } from "../src/command/index.ts";
import { listKey } from "../src/control/index.ts";
import { internal, platform, Value } from "../src/engine/index.ts";
import { FieldState } from "../src/entry/index.ts";
import { HeadlessControl } from "../src/testing/index.ts";
import { seeded } from "./seeded.ts";

const plant = model({ tag: text({ required: true }), count: integer() }, { key: "tag", title: "Plant" });

test("a sum of what is calculated is a Decimal while one of the values is, and a number when none is any more", () => {
  const worth = model({ tag: text(), count: integer() }, { key: "tag" }).calculated({
    worth: (row) => (row.count === 3 ? Decimal.of("0.1") : row.count!) as Decimal,
  });
  const stock = table(worth, [
    { tag: "A", count: 3 },
    { tag: "B", count: 4 },
  ]);
  const shown = view(stock);
  const sum = (): string => `${typeof shown.total("worth")} ${String(shown.total("worth"))}`;
  const sums = [sum()];
  for (const count of [5, 3, 2]) {
    stock.update("A", { count });
    sums.push(sum());
  }
  expect(sums).toEqual(["object 4.1", "number 9", "object 4.1", "number 6"]);
});

test("a sum of decimals is a Decimal also when no row is left", () => {
  const stock = table(model({ tag: text(), price: decimal() }, { key: "tag" }), [
    { tag: "A", price: Decimal.of("2.5") },
  ]);
  const shown = view(stock);
  expect(String(shown.total("price"))).toBe("2.5");
  stock.delete("A");
  expect([typeof shown.total("price"), String(shown.total("price"))]).toEqual(["object", "0"]);
});

test("what a search finds follows what a calculation reads beside the row", () => {
  const suffix = new Value("oak");
  const named = model({ tag: text(), label: text() }, { key: "tag" }).calculated({
    label: (row) => `${row.tag} ${suffix.read()}`,
  });
  const found = view(table(named, [{ tag: "A" }, { tag: "B" }] as never), { search: "oak", searchIn: ["label"] });
  const lengths: number[] = [];
  const followed = follow(
    () => found.length,
    (length) => lengths.push(length),
  );
  expect(found.length).toBe(2);
  suffix.write("elm");
  suffix.write("oak");
  followed.stop();
  expect(lengths).toEqual([0, 2]);
});

test.each([
  ["ArrowDown", [0, 1, 9, 10, 0]],
  ["ArrowUp", [10, 10, 7, 8, 9]],
  ["PageDown", [3, 4, 10, 10, 10]],
  ["PageUp", [0, 0, 4, 5, 6]],
] as const)(
  "%s in a list of eleven choices, none of which is active, or the first, the ninth, the tenth, the last",
  (key, wanted) => {
    const active = [-1, 0, 8, 9, 10];
    const led = active.map((each) => listKey(key, each, 11, 4));
    expect(led).toEqual(wanted);
    expect(active.map((each) => listKey(key, each, 0, 4))).toEqual(active.map(() => undefined));
  },
);

describe("a name that can't be one is refused wherever it is given", () => {
  test.each(["__proto__", "constructor", "7", "a.b", "a/b", "-a", "_charset_", "isindex"])("%s", (name) => {
    const given = Object.fromEntries([[name, () => 1]]);
    expect(() => model({ tag: text() }).calculated(given)).toThrow(new RegExp(`"${name.replace(".", "\\.")}"`));
  });
});

test("an entry of something that has no rows is refused with what would be right", () => {
  for (const source of [5, {}, null, [], "plants"])
    expect(() => editEntry(source as never, "A")).toThrow(/a view, a table and a key, or a model and a row/);
});

test("nothing is being checked where no rule asks elsewhere", () => {
  const entry = newEntry(plant, { save: () => undefined });
  entry.fields.tag.enter("");
  expect([entry.busy, entry.fields.tag.checking, entry.fields.count.checking]).toEqual([false, false, false]);
});

test("steps begin anew with their entry, until they are disposed of", async () => {
  const ground = model({ plot: text({ required: true }), soil: text() });
  const stages: string[] = [];
  for (const isDisposedOf of [false, true]) {
    const survey = newEntry(ground, { save: () => undefined, afterSave: "startNew" });
    const route = steps(survey, { place: ["plot"], ground: ["soil"] });
    survey.fields.plot.enter("A");
    await route.next();
    stages.push(route.current);
    if (isDisposedOf) route[Symbol.dispose]();
    await survey.save();
    stages.push(route.current);
  }
  expect(stages).toEqual(["ground", "place", "ground", "ground"]);
});

test("a condition that is broken neither requires nor locks nor hides anything", () => {
  const broken = (): boolean => {
    throw new Error("broken");
  };
  const strange = model({ tag: text(), count: integer(), notes: text() })
    .required({ tag: broken })
    .readOnly({ count: broken })
    .relevant({ notes: broken });
  const told: unknown[] = [];
  const report = jest.spyOn(platform, "report").mockImplementation((error) => void told.push(error));
  const { fields } = newEntry(strange);
  expect([fields.tag.required, fields.count.readOnly, fields.notes.relevant]).toEqual([false, false, true]);
  report.mockRestore();
  expect(told.length).toBeGreaterThan(0);
});

test("a question without answers, and a text for a file, are refused", async () => {
  await expect(ask("Save?", {})).rejects.toThrow(/answers with what stands on their buttons/);
  const { fields } = newEntry(model({ photo: file() }), { locale: "en" });
  fields.photo.enter("leaf.png");
  expect([fields.photo.text, fields.photo.value, fields.photo.problems[0]?.code]).toEqual([
    "leaf.png",
    undefined,
    "badInput",
  ]);
});

describe("a search that goes on from what was found before", () => {
  const rowsOfBeds = ["Acer campestre", "Acer rubrum", "Alnus cordata"].flatMap((species, at) =>
    [7, 8].map((bed) => ({ tag: `${at} ${bed}`, species, notes: bed === 7 ? "acer stock" : "", bed })),
  );
  const plants = model({ tag: text(), species: text(), notes: text(), bed: integer() }, { key: "tag" });
  const tags = (found: { rows(): readonly { tag: string }[] }): string =>
    found
      .rows()
      .map(({ tag }) => tag)
      .join();

  test("looks at all rows again when the condition is another one at once", () => {
    const found = view(table(plants, rowsOfBeds), {
      where: (row) => row.bed === 7,
      search: "a",
      searchIn: ["species"],
    });
    expect(tags(found)).toBe("0 7,1 7,2 7");
    transaction(() => {
      found.where = undefined;
      found.search = "ace";
    });
    expect(tags(found)).toBe("0 7,0 8,1 7,1 8");
  });

  test("looks only at what was found where nothing else has changed, with the same result", () => {
    const found = view(table(plants, rowsOfBeds), { search: "a", searchIn: ["species", "notes"] });
    for (const [search, wanted] of [
      ["ac", "0 7,0 8,1 7,1 8,2 7"],
      ["ac st", "0 7,0 8,1 7,2 7"],
      ["ac st al", "2 7"],
      ["al", "2 7,2 8"],
    ] as const) {
      found.search = search;
      expect([search, tags(found)]).toEqual([search, wanted]);
    }
  });
});

test.each([
  ["date", date(), ["2026-01-31", "2026-02-01", "1999-12-31"]],
  ["decimal", decimal(), ["10", "9.5", "-0.25", "100"].map((digits) => Decimal.of(digits))],
  ["instant", instant(), ["2026-01-31T10:00:00Z", "2026-01-31T09:00:00Z"]],
  ["integer", integer(), [10, 9, -1]],
  ["number", number(), [0.5, 0.25, -3]],
  ["time", time(), ["10:00", "09:30"]],
  ["boolean", boolean(), [true, false]],
  [
    "oneOf",
    oneOf([
      { const: 2, title: "Acer" },
      { const: 1, title: "Tilia" },
    ]),
    [1, 2],
  ],
] as const)("rows are sorted by a %s, blanks last both ways, in any number", (_, kind, values) => {
  const random = seeded(71);
  const sorted = model({ tag: integer(), of: kind as never }, { key: "tag" });
  const rows = Array.from({ length: 300 }, (_each, tag) => ({
    tag,
    of: random.below(5) === 0 && kind.kind !== "boolean" ? undefined : random.pick(values as readonly unknown[]),
  }));
  const stock = table(sorted, rows as never, { locale: "en" });
  const shownAs = (value: unknown): string =>
    kind.kind === "boolean" ? (value === true ? "yes" : "no") : value === 2 ? "Acer" : "Tilia";
  const compare = (a: unknown, b: unknown): number => {
    if (kind.kind === "decimal") return (a as Decimal).compare(b);
    if (kind.kind === "oneOf" || kind.kind === "boolean")
      return shownAs(a) < shownAs(b) ? -1 : Number(shownAs(a) > shownAs(b));
    return (a as number) < (b as number) ? -1 : Number((a as number) > (b as number));
  };
  for (const sign of [1, -1]) {
    const right = rows.toSorted((a, b) => {
      if (a.of === undefined || b.of === undefined) return Number(a.of === undefined) - Number(b.of === undefined);
      return sign * compare(a.of, b.of);
    });
    const found = view(stock, { orderBy: (sign > 0 ? "of" : "of desc") as never });
    expect(found.rows().map(({ tag }) => tag)).toEqual(right.map(({ tag }) => tag));
  }
});

test("what is wrong in a row inside is told by the title that its field has in the reader's language", () => {
  const line = model({
    count: integer({ required: true, title: (locale) => (locale.startsWith("de") ? "Anzahl" : "Count") }),
  });
  const order = newEntry(model({ lines: rows(line) }), {
    locale: "de",
    values: { lines: [{ count: undefined }] as never },
  });
  expect(order.problems.map(({ message }) => message).join()).toContain("Anzahl");
});

test("what is followed goes on being followed when it stops something else as it looks", () => {
  const [mine, others] = [new Value(1), new Value(1)];
  const other = follow(
    () => others.read(),
    () => undefined,
  );
  const seen: number[] = [];
  const followed = follow(
    () => {
      other.stop();
      return mine.read();
    },
    (now) => seen.push(now),
  );
  mine.write(2);
  mine.write(3);
  followed.stop();
  mine.write(4);
  expect(seen).toEqual([2, 3]);
});

test("rows are told apart by the first six of them", () => {
  const line = model({ species: text(), count: integer() });
  const told = (length: number): string => {
    const orders = table(
      model({ number: integer(), lines: rows(line) }, { key: "number" }),
      [{ number: 1, lines: [] }],
      {
        locale: "en",
      },
    );
    const entry = editEntry(orders, 1);
    entry.values.lines = Array.from({ length }, (_, at) => ({ species: `S${at}`, count: at }));
    orders.update(1, { lines: [{ species: "Acer", count: undefined }] });
    return entry.fields.lines.problems[0]!.message;
  };
  expect(told(6)).toBe("Changed elsewhere too. There: Acer. Here: S0 0; S1 1; S2 2; S3 3; S4 4; S5 5.");
  expect(told(7)).toMatch(/S5 5; …\.$/);
});

test("fields that propose each other do so from the first moment", () => {
  const girth = model({ metric: number(), inches: number() })
    .proposed({ inches: (row) => row.metric! / 2.5 })
    .proposed({ metric: (row) => row.inches! * 2.5 });
  expect(newEntry(girth, { values: { metric: 100 } }).values.inches).toBe(40);
  expect(newEntry(girth, { values: { inches: 40 } }).values.metric).toBe(100);
  expect({ ...newEntry(girth).values }).toEqual({ metric: undefined, inches: undefined });
  const total = girth.calculated({ twice: (row) => row.inches! * 2 });
  expect(newEntry(total, { values: { metric: 100 } }).values.twice).toBe(80);
});

test.each([
  [{ key: "я", code: "KeyZ" }, "z"],
  [{ key: "Z", code: "KeyW" }, "z"],
  [{ key: "é", code: "Digit2" }, "é"],
  [{ key: "ö", code: "Semicolon" }, "ö"],
  [{ key: "Enter", code: "Enter" }, "Enter"],
  [{ key: "7" }, "7"],
] as const)("the key %j stands for %s in shortcuts", (pressed, letter) => {
  expect(keyLetter(pressed)).toBe(letter);
});

test("who follows what can be undone is told by each step there and back", () => {
  const history = newHistory();
  const entry = newEntry(plant, { history });
  entry.values.count = 1;
  const seen: (string | undefined)[] = [];
  const followed = follow(
    () => [history.undoes?.titles.join(), history.redoes?.titles.join()].join(" | "),
    (now) => seen.push(now),
  );
  entry.undo();
  entry.redo();
  followed.stop();
  expect(seen).toEqual([" | Count", "Count | "]);
});

test("a block that a rule of the row refuses is refused as a whole, with row and field of each problem", () => {
  const ruled = model({ tag: text(), least: integer(), count: integer({ minimum: 0 }) }, { key: "tag" }).rule(
    "enough",
    {
      shownAt: ["count"],
      holds: (row) => (row.count ?? 0) >= (row.least ?? 0) || "Too few.",
    },
  );
  const stock = table(
    ruled,
    ["A", "B", "C"].map((tag) => ({ tag, least: 5, count: 9 })),
    { locale: "en" },
  );
  const pasted = pasteBlock(view(stock), [["8"], ["4"], ["-1"]], { row: 0, columns: ["count"] });
  expect(pasted).toMatchObject({
    ok: false,
    problems: [
      { row: 2, name: "count", message: "Too few." },
      { row: 3, name: "count", code: "rangeUnderflow" },
      { row: 3, name: "count", message: "Too few." },
    ],
  });
  expect([...stock].map(({ count }) => count)).toEqual([9, 9, 9]);
});

test("a table speaks the language that its builder gave it, and else that of the page", () => {
  const [given, set, offered] = [table(plant, [], { locale: "de" }), table(plant), table(plant)];
  set.locale = "ar";
  for (const each of [given, set, offered]) each[internal].offerLocale("fr");
  expect([given, set, offered].map(({ locale }) => locale)).toEqual(["de", "ar", "fr"]);
});

test("the steps of one movement are one step to undo, and what is ticked is a step each time", () => {
  const entry = newEntry(model({ depth: integer({ minimum: 0, maximum: 100 }), fenced: boolean() }));
  const slider = {};
  const [depth, fenced] = [entry.fields.depth[internal], entry.fields.fenced[internal]];
  if (!(depth instanceof FieldState) || !(fenced instanceof FieldState)) throw new Error("No fields.");
  for (const value of [1, 2, 3]) depth.choose(value, { cause: "typed", control: slider } as never);
  for (const value of [true, false, true]) fenced.choose(value, { cause: "typed", control: slider } as never);
  const found: string[] = [];
  while (entry.undo().ok) found.push(`${String(entry.values.depth)} ${String(entry.values.fenced)}`);
  expect(found).toEqual(["3 false", "3 true", "3 false", "undefined false"]);
});

test("a control in which a person types keeps the text until something else makes it another", () => {
  const entry = newEntry(plant, { locale: "en" });
  const control = new HeadlessControl(entry.fields.count);
  control.type("0");
  control.type("07");
  expect([control.text, control.state.keep]).toEqual(["07", true]);
  entry.undo();
  expect([control.text, control.state.keep]).toEqual(["", false]);
  control.type("5");
  entry.revert();
  expect([control.text, control.state.keep]).toEqual(["", false]);
});

test.each(["en", "de", "ar", "ja", "fi"])(
  "a time with seconds is read in %s as it is shown, and without them where they are none",
  (locale) => {
    const shown = model({ at: time({ display: { timeStyle: "medium" } }) });
    for (const at of ["14:05", "14:05:09", "00:00", "12:30:59"]) {
      const [from, to] = [newEntry(shown, { locale, values: { at } }), newEntry(shown, { locale })];
      to.fields.at.enter(from.fields.at.display);
      expect([from.fields.at.display, to.values.at]).toEqual([from.fields.at.display, at]);
    }
  },
);

test("sorting that was given up before it began has not been done", async () => {
  const stock = table(
    plant,
    ["B", "A"].map((tag) => ({ tag, count: 1 })),
  );
  for (const found of [view(stock), view(stock, { where: () => true })]) {
    const given = new AbortController();
    given.abort();
    expect(await found.sortBy("tag", { signal: given.signal })).toBe(false);
    expect(found.rows().map(({ tag }) => tag)).toEqual(["B", "A"]);
    expect(await found.sortBy("tag", { signal: new AbortController().signal })).toBe(true);
    expect(found.rows().map(({ tag }) => tag)).toEqual(["A", "B"]);
  }
});

test("sums are of the rows that were loaded last", () => {
  const stock = table(plant, [{ tag: "A", count: 1 }]);
  const shown = view(stock);
  expect(shown.total("count")).toBe(1);
  stock.load([
    { tag: "A", count: 4 },
    { tag: "B", count: 6 },
  ]);
  expect([shown.total("count"), shown.length]).toEqual([10, 2]);
  stock.load([]);
  stock.insert({ tag: "C", count: 3 });
  expect(shown.total("count")).toBe(3);
});

test("a transaction that gives nothing says that it was done", () => {
  expect(transaction(() => undefined)).toEqual({ ok: true, value: undefined });
});
