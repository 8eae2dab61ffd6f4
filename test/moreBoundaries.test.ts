/** More places where one sign more or less would make a difference: in limits, views, steps, commands, readers. */
import { afterEach, describe, expect, test } from "@jest/globals";
import {
  ask,
  command,
  confirmed,
  date,
  dateTime,
  Decimal,
  decimal,
  editEntry,
  follow,
  group,
  instant,
  integer,
  model,
  newEntry,
  notices,
  number,
  oneOf,
  setAsker,
  someOf,
  steps,
  table,
  text,
  time,
  view,
} from "../src/index.ts";
import { gridAct, type GridState, pressSave } from "../src/control/index.ts";
import { loadRows } from "../src/store/index.ts";

const codes = (problems: readonly { readonly code: string }[]): string[] => problems.map(({ code }) => code);

describe("limits of decimals", () => {
  const entry = newEntry(model({ price: decimal({ minimum: "1", maximum: "2", multipleOf: "0.5" }) }), {
    locale: "en",
  });
  test.each([
    ["0.5", ["rangeUnderflow"]],
    ["1", []],
    ["2.0", []],
    ["2.5", ["rangeOverflow"]],
    ["1.25", ["stepMismatch"]],
    ["9.75", ["rangeOverflow", "stepMismatch"]],
  ])("%s", (value, expected) => {
    entry.values.price = Decimal.of(value);
    expect(codes(entry.problems)).toEqual(expected);
  });

  test("the multiple of one with more digits, and of one with fewer", () => {
    const fine = newEntry(model({ price: decimal({ multipleOf: "0.01" }), whole: decimal({ multipleOf: "5" }) }), {
      locale: "en",
    });
    fine.values.price = Decimal.of("0.123");
    fine.values.whole = Decimal.of("10.0");
    expect(codes(fine.problems)).toEqual(["stepMismatch"]);
  });
});

describe("a view", () => {
  const plants = model({ tag: text(), count: integer() }, { key: "tag" });
  const begin = () => {
    const stock = table(
      plants,
      [5, 1, 3].map((count) => ({ tag: `t${count}`, count })),
      { locale: "en" },
    );
    return { stock, shown: view(stock, { where: (row) => (row.count ?? 0) > 2, orderBy: "count" }) };
  };

  test("gives no place to a row that is not in it, or nowhere", () => {
    const { shown } = begin();
    expect([shown.placeOf("t1"), shown.placeOf("none"), shown.placeOf("t3"), shown.has("t1")]).toEqual([
      -1,
      -1,
      0,
      false,
    ]);
  });

  test("stays in its order when another is refused", () => {
    const { shown } = begin();
    expect(() => (shown.orderBy = "cuont" as never)).toThrow(/Did you mean "count"/);
    expect([shown.orderBy, shown.keys()]).toEqual(["count", ["t3", "t5"]]);
  });

  test("sorts blanks last, and is told of rows by who only reads their number", () => {
    const { stock, shown } = begin();
    stock.insert({ tag: "blank", count: undefined });
    const all = view(stock, { orderBy: "count" });
    expect(all.keys()).toEqual(["t1", "t3", "t5", "blank"]);
    all.orderBy = { name: "count", direction: "descending" };
    expect(all.keys()).toEqual(["t5", "t3", "t1", "blank"]);
    const seen: number[] = [];
    const following = follow(
      () => shown.length,
      (length) => seen.push(length),
    );
    stock.delete("t3");
    stock.insert({ tag: "t7", count: 7 });
    stock.insert({ tag: "t8", count: 8 });
    following.stop();
    expect(seen).toEqual([1, 2, 3]);
  });

  test("numbers at the end of what 32 bits hold are in their order", () => {
    const numbers = [2_147_483_647, -2_147_483_648, 2_147_483_648, 0, -0.5, 0.5];
    const rows = model({ id: text(), n: number() }, { key: "id" });
    for (const some of [numbers, numbers.slice(0, 2), numbers.slice(0, 4).filter(Number.isInteger)]) {
      const sorted = view(
        table(
          rows,
          some.map((n) => ({ id: String(n), n })),
        ),
        { orderBy: "n" },
      );
      expect(sorted.rows().map(({ n }) => n)).toEqual([...some].sort((a, b) => a - b));
    }
  });
});

test("a group holds an object, and nothing else", () => {
  const places = table(model({ id: text(), place: group({ bed: text() }) }, { key: "id" }), [], { locale: "en" });
  for (const place of [[], null, "bed", 7])
    expect(() => places.insert({ id: "a", place: place as never })).toThrow(/place/);
  expect(places.insert({ id: "a", place: { bed: "7" } }).ok).toBe(true);
  const given = [[], "bed", { bed: "7" }].map((place, at) => ({ id: `b${at}`, place: place as never }));
  const all = table(model({ id: text(), place: group({ bed: text() }) }, { key: "id" }), given, { locale: "en" });
  expect([view(all).keys(), all.leftOut.length]).toEqual([["b2"], 2]);
});

describe("times", () => {
  test("show their seconds where there are some", () => {
    const entry = newEntry(
      model({ at: time(), from: dateTime(), on: date({ display: { dateStyle: "short" } }), since: instant() }),
      { locale: "en-US", timeZone: "UTC" },
    );
    entry.values.at = "09:30:15";
    entry.values.from = "2026-11-28T09:30:15";
    expect(entry.fields.at.display).toMatch(/9:30:15/);
    expect(entry.fields.from.display).toMatch(/9:30:15/);
    entry.values.at = "09:30:00";
    entry.values.from = "2026-11-28T09:30";
    expect(entry.fields.at.display).toMatch(/9:30\s/);
    expect(entry.fields.from.display).not.toMatch(/9:30:/);
  });

  test("that mean the same are no change", () => {
    const entry = newEntry(model({ at: time() }), { locale: "en", values: { at: "09:30" } });
    entry.values.at = "09:30:00";
    expect(entry.changed).toBe(false);
    entry.values.at = "09:30:01";
    expect(entry.changed).toBe(true);
  });
});

describe("choices", () => {
  test("are found by value first, then by caption, then by value in other letters", () => {
    const choices = [
      { const: "b", title: "a" },
      { const: "a", title: "c" },
      { const: "D", title: "e" },
    ] as const;
    const entry = newEntry(model({ it: oneOf(choices) }), { locale: "en" });
    const read = (typed: string) => {
      entry.fields.it.enter(typed);
      return entry.values.it;
    };
    expect([read("a"), read("C"), read("d"), read("E")]).toEqual(["a", "a", "D", "D"]);
  });

  test("that become others are followed; the same again are not", () => {
    const wide = newEntry(
      model({ wide: integer({ default: 0 }), it: oneOf(["a", "b", "c"]), them: someOf(["a", "b"]) }).choices({
        it: (row) => (row.wide > 1 ? ["a", "b"] : ["a", "c"]),
      }),
      { locale: "en" },
    );
    const seen: string[] = [];
    const following = follow(
      () => wide.fields.it.choices?.map(({ const: value }) => value).join(),
      (all) => seen.push(String(all)),
    );
    for (const value of [1, 2, 3, 0]) wide.values.wide = value;
    following.stop();
    expect(seen).toEqual(["a,b", "a,c"]);
  });
});

describe("steps", () => {
  const begin = () => {
    const entry = newEntry(model({ a: text({ required: true }), b: text(), c: text({ required: true }) }), {
      locale: "en",
      save: () => undefined,
    });
    return { entry, route: steps(entry, { first: ["a"], second: ["b"], third: ["c"] }) };
  };

  test("one before is gone back to, and one after only past those that are right", async () => {
    const { entry, route } = begin();
    expect((await route.goTo("third")).ok).toBe(false);
    expect(route.current).toBe("first");
    entry.values.a = "x";
    expect((await route.goTo("third")).ok).toBe(true);
    expect(route.current).toBe("third");
    expect(route.list.map(({ done }) => done)).toEqual([true, true, false]);
    expect((await route.goTo("second")).ok).toBe(true);
    expect(route.current).toBe("second");
    expect((await route.goTo("first")).ok).toBe(true);
    expect(route.current).toBe("first");
  });
});

describe("a save", () => {
  test("hides what was shown, and what is blank then is not wrong before it is left", async () => {
    const entry = newEntry(model({ a: text({ required: true }), b: text() }), { locale: "en", save: () => undefined });
    await entry.save();
    expect(entry.visibleProblems).toHaveLength(1);
    entry.values.a = "x";
    expect((await entry.save()).ok).toBe(true);
    entry.values.a = "";
    expect(entry.visibleProblems).toEqual([]);
  });

  test("that is refused by the field that names it leads there; one that may not be, only says why", async () => {
    const refusing = (pointer: string) =>
      newEntry(model({ a: text() }), {
        locale: "en",
        save: () => ({ ok: false, problems: [{ code: "notAllowed", message: "No.", severity: "error", pointer }] }),
      });
    const [whole, field] = [refusing(""), refusing("/a")];
    for (const entry of [whole, field]) entry.values.a = "x";
    expect([(await pressSave(whole as never)).what, (await pressSave(field as never)).what]).toEqual([
      "failed",
      "refused",
    ]);
  });
});

describe("questions and commands", () => {
  let asking: { stop(): void } | undefined;
  afterEach(() => asking?.stop());

  test("yes is yes, and no answer is no", async () => {
    const answers: (string | undefined)[] = ["yes", "no", undefined];
    asking = setAsker({ ask: () => Promise.resolve(answers.shift()), word: (name) => name });
    expect([await confirmed("Sure?"), await confirmed("Sure?"), await confirmed("Sure?")]).toEqual([
      true,
      false,
      false,
    ]);
    await expect(ask("", { a: "A" })).resolves.toBeUndefined();
  });

  test("a run that is over has nothing to tell; what is told lies between nothing and all", async () => {
    let late: ((done?: number, said?: string) => void) | undefined;
    const work = command({
      title: "Work",
      run: ({ progress }) => {
        late = progress;
        progress(2, "nearly");
        return Promise.resolve();
      },
    });
    const run = work.run();
    expect(work.progress).toMatchObject({ done: 1, text: "nearly" });
    await run;
    const after = work.progress;
    late!(0.5, "late");
    expect(work.progress).toEqual(after);
  });

  test("what was said is taken away, and stays in the history", () => {
    notices.say("Here.");
    notices.clear();
    expect([notices.latest, notices.history.at(-1)?.text]).toEqual([undefined, "Here."]);
  });
});

test("a row of a grid is moved by Alt with an arrow alone", () => {
  const state: GridState = {
    ...{ row: 1, column: 0, rows: 3, columns: 2, page: 2, editing: false, rightToLeft: false, cell: "shown" },
    ...{ reorders: true, selected: false, rowChanged: false },
  };
  const act = (key: string, more: Partial<GridState> = {}, shift = false, control = false) =>
    gridAct({ key, shift, control, alt: true }, { ...state, ...more })?.what;
  expect([act("ArrowDown"), act("ArrowUp"), act("ArrowLeft")]).toEqual(["moveRow", "moveRow", undefined]);
  expect([act("ArrowDown", { row: -1 }), act("ArrowDown", { row: 0 }), act("ArrowDown", { reorders: false })]).toEqual([
    ...[undefined, "moveRow", undefined],
  ]);
  expect([act("ArrowDown", {}, true), act("ArrowDown", {}, false, true)]).toEqual([undefined, undefined]);
});

test("protection is of the field that has it, of its group, and of none else", () => {
  const entry = newEntry(
    model({
      kept: text({ readOnly: true }),
      place: group({ bed: text(), plot: text({ readOnly: true }) }, { readOnly: true }),
      free: text(),
    }),
    { locale: "en" },
  );
  const { kept, free } = entry.fields;
  expect([kept.readOnly, free.readOnly, entry.fields.place.fields.bed.readOnly]).toEqual([true, false, true]);
});

test("an entry over a view goes along with the current row, also to none and back", () => {
  const stock = table(model({ tag: text(), name: text() }, { key: "tag" }), [
    { tag: "a", name: "A" },
    { tag: "b", name: "B" },
  ]);
  const shown = view(stock);
  const entry = editEntry(shown);
  const seen = [undefined, "a", "b", undefined, "a"].map((key) => {
    shown.currentKey = key;
    return entry.fields.name.text;
  });
  expect(seen).toEqual(["", "A", "B", "", "A"]);
});

test("texts in UTF-16 are read by the mark at their beginning, in both orders of bytes", async () => {
  const tags = model({ tag: text(), name: text() });
  const bytes = (little: boolean): Uint8Array => {
    const signs = "\uFEFFtag,name\na,Ährenfeld\n";
    const view16 = new DataView(new ArrayBuffer(signs.length * 2));
    [...signs].forEach((sign, at) => view16.setUint16(at * 2, sign.charCodeAt(0), little));
    return new Uint8Array(view16.buffer);
  };
  await expect(loadRows(table(tags), new Blob([]) as never)).rejects.toThrow(/as file\.stream\(\) gives them/);
  for (const little of [true, false]) {
    const stock = table(tags);
    const loaded = await loadRows(stock, bytes(little), { format: "csv" });
    expect([loaded.ok, view(stock).rows()]).toEqual([true, [{ tag: "a", name: "Ährenfeld" }]]);
  }
});
