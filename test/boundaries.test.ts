/** Places where one sign more or less would make a difference that no larger test has noticed. */
import { describe, expect, test } from "@jest/globals";
import { matching } from "../src/control/index.ts";
import { internal, sameValue } from "../src/engine/index.ts";
import {
  command,
  date,
  Decimal,
  file,
  group,
  instant,
  integer,
  list,
  model,
  newEntry,
  newHistory,
  number,
  rows,
  someOf,
  steps,
  table,
  text,
  transaction,
  view,
  writeBlock,
} from "../src/index.ts";
import { loadRows } from "../src/store/index.ts";

describe("two values are the same for a person", () => {
  class Point {
    constructor(readonly x: number) {}
  }
  test.each([
    [NaN, NaN, true],
    [0, -0, true],
    [1, "1", false],
    [null, {}, false],
    [{}, null, false],
    [undefined, null, false],
    [[], {}, false],
    [[1, 2], [1], false],
    [[1], [1, 2], false],
    [[1, [2]], [1, [2]], true],
    [{ a: 1 }, { a: 1, b: undefined }, false],
    [{ a: { b: 1 } }, { a: { b: 1 } }, true],
    [{ a: 1 }, { b: 1 }, false],
    [Decimal.of("1.0"), Decimal.of("1"), true],
    [Decimal.of("1"), Decimal.of("2"), false],
    [new Point(1), new Point(1), false],
  ])("%p and %p: %p", (a, b, same) => {
    expect([sameValue(a, b), sameValue(b, a)]).toEqual([same, same]);
  });
});

test("typing that goes on outside a transaction is not taken back by one that fails later", () => {
  const entry = newEntry(model({ tag: text() }));
  entry.fields.tag.enter("A");
  entry.fields.tag.enter("AB");
  expect(() =>
    transaction(() => {
      throw new Error("no");
    }),
  ).toThrow("no");
  expect([entry.fields.tag.text, entry.undo().ok, entry.fields.tag.text]).toEqual(["AB", true, ""]);
});

test("a history keeps what it is told to, and an eighth more for a while", () => {
  const history = newHistory({ maxItems: 8 });
  const rows = table(model({ key: integer() }, { key: "key" }), [], { history });
  const undoable = (): number => {
    let count = 0;
    while (history.undo().ok) count++;
    for (let each = 0; each < count; each++) history.redo();
    return count;
  };
  for (let key = 1; key <= 9; key++) rows.insert({ key });
  expect(undoable()).toBe(9);
  rows.insert({ key: 10 });
  expect(undoable()).toBe(8);
});

test("a current row that leaves a long list makes the next one current, far down too", () => {
  const rows = table(
    model({ key: integer(), out: integer() }, { key: "key" }),
    Array.from({ length: 5_000 }, (_, key) => ({ key, out: 0 })),
  );
  const shown = view(rows, { where: (r) => r.out === 0, orderBy: "key" });
  for (const key of [10, 2_500, 4_998]) {
    shown.currentKey = key;
    // Found by a condition that changes, not by the row: so it is looked for by where it would be.
    shown.where = (r) => r.out === 0 && r.key !== key;
    expect(shown.currentKey).toBe(key + 1);
    shown.where = (r) => r.out === 0;
  }
  shown.currentKey = 4_999;
  shown.where = (r) => r.key !== 4_999;
  expect(shown.currentKey).toBe(4_998);
});

test("the largest and the smallest whole numbers, fractions and blanks are sorted as numbers, both ways", () => {
  const largest = 2 ** 31 - 1;
  const given = [largest, undefined, -(2 ** 31), 0, largest - 1, 2 ** 31, 0.5, -1];
  const rows = table(
    model({ x: number() }),
    given.map((x) => ({ x })),
  );
  const sorted = given.filter((x) => x !== undefined).sort((a, b) => a - b);
  const shown = view(rows, { orderBy: "x" });
  expect(shown.rows().map(({ x }) => x)).toEqual([...sorted, undefined]);
  shown.orderBy = "x desc";
  expect(shown.rows().map(({ x }) => x)).toEqual([...sorted.toReversed(), undefined]);
  const whole = table(
    model({ x: integer() }),
    [largest, undefined, 3, largest - 1].map((x) => ({ x })),
  );
  expect(
    view(whole, { orderBy: "x" })
      .rows()
      .map(({ x }) => x),
  ).toEqual([3, largest - 1, largest, undefined]);
});

test("a group refuses options that it does not have", () => {
  expect(() => group({ bed: integer() }, { titel: "Place" } as never)).toThrow(/titel.*title/s);
});

test.each([
  [{}, "31.5"],
  [{ minimum: 100 }, "100"],
  [{ maximum: 10 }, "10"],
  [{ minimum: 31.5, maximum: 31.5 }, "31.5"],
  [{ minimum: 31.6 }, "31.6"],
  [{ maximum: 31.4 }, "31.4"],
])("an example of a number is one that could be entered: %p", (limits, example) => {
  const entry = newEntry(model({ x: number(limits) }), { locale: "en" });
  entry.fields.x.enter("abc");
  expect(entry.fields.x.problems[0]!.message).toContain(`such as ${example}.`);
});

describe("in a list that is searched", () => {
  test("other choices are looked at anew, whatever was found among those before", () => {
    const [trees, beds] = [
      ["Acer", "Malus", "Tilia"],
      ["Maple bed", "Acre", "Ma"],
    ].map((titles) => titles.map((title) => ({ const: title, title }))) as [
      { const: string; title: string }[],
      { const: string; title: string }[],
    ];
    const first = matching(trees, "m");
    const second = matching(beds, "ma", first);
    expect([first.places, second.places, matching(beds, "ma").places]).toEqual([[1], [0, 2], [0, 2]]);
    expect(matching(beds, "map", second).places).toEqual([0]);
  });

  test("what only holds the text stays in the order of the choices, also when one letter more is typed", () => {
    const choices = ["x ab", "a b ab", "y ab"].map((title) => ({ const: title, title }));
    const first = matching(choices, "a");
    expect(first.places).toEqual([1, 0, 2]);
    expect(matching(choices, "ab", first).places).toEqual([0, 1, 2]);
  });
});

describe("a command for rows", () => {
  test.each([
    ["with a key", { key: "tag" }, [true, false]],
    ["without a key", {}, [true, false]],
  ] as const)("%s is busy for the row that it runs for, and not for another", async (_, options, busy) => {
    const plant = model({ tag: text() }, options as { key: "tag" });
    const ends: (() => void)[] = [];
    const dig = command(plant, { title: "Dig", run: () => new Promise<void>((end) => ends.push(end)) });
    const [one, other] = [{ tag: "A" }, { tag: "B" }];
    const running = dig.on(one).run();
    await Promise.resolve();
    expect([dig.on(one).busy, dig.on(other).busy]).toEqual(busy);
    // With a key it is the row, whatever object stands for it now.
    expect(dig.on({ tag: "A" }).busy).toBe("key" in options);
    for (const end of ends) end();
    await running;
    expect([dig.on(one).busy, dig.on(other).busy]).toEqual([false, false]);
  });
});

describe("conditions of names that there are not", () => {
  const plant = (): ReturnType<typeof model> => model({ tag: text(), bed: integer() }) as never;
  test.each<[string, (given: ReturnType<typeof plant>) => unknown]>([
    ["required", (given) => given.required({ tga: () => true })],
    ["relevant", (given) => given.relevant({ tga: () => true })],
    ["readOnly", (given) => given.readOnly({ tga: () => true })],
    ["choices", (given) => given.choices({ tga: () => [] })],
    ["proposed", (given) => given.proposed({ tga: () => "" })],
  ])("%s: refused, with the nearest name", (_, declare) => {
    expect(() => declare(plant())).toThrow(/"tga" .*Did you mean "tag"\?/s);
  });

  test("unknown options of every kind are refused", () => {
    for (const make of [
      () => list(text(), { minItem: 1 } as never),
      () => someOf(["a"], { minItem: 1 } as never),
      () => rows(model({ tag: text() }), { minItem: 1 } as never),
      () => instant({ minimun: "" } as never),
      () => file({ acept: "" } as never),
    ])
      expect(make).toThrow(/Did you mean "(minItems|minimum|accept)"\?/);
  });
});

describe("steps", () => {
  test("finishing leads to the first step that is not right, wherever one is", async () => {
    const entry = newEntry(model({ tag: text({ required: true }), bed: integer(), notes: text() }), {
      locale: "en",
      values: { tag: "A" },
      save: () => "Kept.",
    });
    const form = steps(entry, {
      first: { title: "First", fields: ["tag"] },
      second: { title: "Second", fields: ["bed"] },
      third: { title: "Third", fields: ["notes"] },
    } as never) as unknown as { current: string; finish(): Promise<{ ok: boolean }>; next(): Promise<unknown> };
    await form.next();
    await form.next();
    expect(form.current).toBe("third");
    entry.values.tag = "";
    expect([(await form.finish()).ok, form.current]).toEqual([false, "first"]);
  });
});

describe("texts", () => {
  test("a block of several rows ends with its last cell, and with a break more only where that is blank", () => {
    expect([writeBlock([["a"], ["b"]]), writeBlock([["a"], [""]]), writeBlock([["a"]]), writeBlock([[""]])]).toEqual([
      ...["a\nb", "a\n\n", "a", ""],
    ]);
  });

  test("a file in two pieces is read as in one, wherever it is cut", async () => {
    const note = model({ tag: text(), notes: text() });
    for (const whole of ['tag,notes\r\nA,"x\r\ny"\r\nB,z\r\n', "tag,notes\rA,x\rB,z\r", "tag,notes\nA,x\n\nB,z"]) {
      const read = async (pieces: readonly string[]): Promise<unknown> => {
        const notes = table(note, [], { locale: "en" });
        const { problems } = await loadRows(notes, pieces, { format: "csv" });
        return [[...notes], problems];
      };
      const wanted = await read([whole]);
      for (let at = 1; at < whole.length; at++)
        expect([at, await read([whole.slice(0, at), whole.slice(at)])]).toEqual([at, wanted]);
    }
  });

  test("a year in front is followed by month and day in every locale", () => {
    for (const locale of ["de", "en", "fr"])
      expect(date().read("2026/11/12", locale)).toEqual({ ok: true, value: "2026-11-12" });
    expect(date().read("12.11.2026", "de")).toEqual({ ok: true, value: "2026-11-12" });
  });

  test("a number that ends with its decimal sign, or begins with it, is read as the notation has it, at each length", () => {
    const kind = number();
    for (const given of ["5.", ".5", "5.5", "12345678901234."])
      expect([given, kind.read(given, "en").ok]).toEqual([given, kind.read(`${given} `, "en").ok]);
  });
});

describe("numbers", () => {
  test("are rounded once in a total, as the exact sum is", () => {
    const least = 2 ** -53;
    const values = table(
      model({ value: number() }),
      [1, least, least / 2 ** 50].map((value) => ({ value })),
    );
    expect(view(values).total("value")).toBe(1 + 2 * least);
    values.replaceAll([1, least].map((value) => ({ value })));
    expect(view(values).total("value")).toBe(1);
    // Half way between two numbers, what is far below decides; it is in no part with another.
    for (const sign of [1, -1])
      for (const [far, right] of [
        [2 ** -120, 1 + 2 * least],
        [-(2 ** -120), 1],
        [0, 1],
      ] as const) {
        values.replaceAll([1, least, far].map((value) => ({ value: sign * value })));
        expect([far, view(values).total("value")]).toEqual([far, sign * right]);
      }
    values.replaceAll([1e100, 1, -1e100].map((value) => ({ value })));
    expect(view(values).total("value")).toBe(1);
  });

  test("a total that was read is that of the rows which were put in their place", () => {
    const values = table(model({ value: integer() }), [{ value: 1 }, { value: 2 }]);
    const shown = view(values);
    expect(shown.total("value")).toBe(3);
    values.replaceAll([{ value: 10 }, { value: 20 }]);
    expect(shown.total("value")).toBe(30);
  });

  test("get the keyboard that they need", () => {
    expect([
      integer({ minimum: 0 }).inputMode,
      number({ minimum: 0, multipleOf: 5 }).inputMode,
      number({ minimum: 0 }).inputMode,
    ]).toEqual(["numeric", "numeric", "decimal"]);
  });

  test("are multiples to the precision of binary fractions", () => {
    const entry = newEntry(model({ value: number({ multipleOf: 0.1 }) }), { locale: "en" });
    const isRight = (value: number): boolean => {
      entry.values.value = value;
      return entry.valid;
    };
    expect([0.3, 0.7, 1234.5, 0.35, 0.3001, -0.3, 1e9 + 0.1].map(isRight)).toEqual([
      ...[true, true, true, false, false, true, true],
    ]);
  });
});

test("the page's language is taken unless the builder has said one, and a blank one never", () => {
  const offered = newEntry(model({ tag: text() }));
  const given = newEntry(model({ tag: text() }), { locale: "en" });
  for (const entry of [offered, given]) {
    const state = (entry as unknown as Record<symbol, { offerLocale(locale: string): void }>)[internal]!;
    state.offerLocale("de");
    state.offerLocale("");
  }
  expect([offered.locale, given.locale]).toEqual(["de", "en"]);
});
