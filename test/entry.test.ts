import { describe, expect, jest, test } from "@jest/globals";
import { follow, platform, transaction, internal } from "../src/engine/index.ts";
import { newEntry } from "../src/entry/index.ts";
import { editEntry } from "../src/index.ts";
import { boolean, integer, model, number, oneOf, someOf, text } from "../src/model/index.ts";

const treeCard = model(
  {
    tag: text({ title: "Tag", required: true, pattern: "[A-Z]{2}-[0-9]{4}", examples: ["AB-0042"] }),
    species: oneOf(["Quercus robur", "Alnus glutinosa"], { required: true }),
    condition: oneOf(
      [
        { const: 1, title: "Thriving" },
        { const: 2, title: "Stressed" },
        { const: 3, title: "Failing" },
      ],
      { default: 1 },
    ),
    hazards: someOf(["leaning", "cavity"], { maxItems: 1 }),
    stems: integer({ minimum: 1, maximum: 12, default: 1 }),
    girth: number({
      title: "Girth",
      required: true,
      unit: "centimeter",
      minimum: 0,
      maximum: 2000,
      display: { maximumFractionDigits: 1 },
    }),
    fenced: boolean(),
    fenceCost: number({ minimum: 0 }),
    notes: text({ maxLength: 20 }),
  },
  { title: "Tree card", key: "tag" },
)
  .calculated({ diameter: (t) => t.girth / Math.PI })
  .calculated({ ageInYears: (t) => t.diameter * 0.8 })
  .relevant({ fenceCost: (t) => t.fenced })
  .rule("failingNeedsNote", {
    shownAt: ["notes"],
    message: "Say what is wrong with a failing tree.",
    holds: (t) => t.condition !== 3 || t.notes !== "",
  });

const good = { tag: "AB-0042", species: "Quercus robur", girth: 31.5 } as const;
const codes = (problems: readonly { code: string; pointer: string }[]): string[] =>
  problems.map(({ code, pointer }) => `${code} ${pointer}`);

describe("values and text", () => {
  test("a new entry has its defaults, and everything else its natural blank, from the first moment", () => {
    const card = newEntry(treeCard, { locale: "en" });
    expect({ ...card.values }).toEqual({
      tag: "",
      species: undefined,
      condition: 1,
      hazards: [],
      stems: 1,
      girth: undefined,
      fenced: false,
      fenceCost: undefined,
      notes: "",
      diameter: undefined,
      ageInYears: undefined,
    });
    expect(card.changed).toBe(false);
  });

  test("what a person types is read by the locale, kept as typed, and calculated with", () => {
    const card = newEntry(treeCard, { locale: "de-DE" });
    card.fields.girth.enter("31,5");
    expect(card.values.girth).toBe(31.5);
    expect(card.values.diameter).toBeCloseTo(31.5 / Math.PI);
    expect(card.values.ageInYears).toBeCloseTo((31.5 / Math.PI) * 0.8);
    expect(card.fields.girth.text).toBe("31,5");
    expect(card.fields.girth.display).toBe("31,5 cm");
    card.fields.girth.enter("31.5");
    expect(card.values.girth).toBe(31.5);
  });

  test("text that can't be read is kept and explained; nothing is calculated from it and it can't be saved", async () => {
    const save = jest.fn<() => void>();
    const card = newEntry(treeCard, { locale: "de-DE", save, values: good });
    card.fields.girth.enter("abc");
    expect(card.fields.girth.text).toBe("abc");
    expect(card.fields.girth.display).toBe("abc");
    expect(card.values.girth).toBeUndefined();
    expect(card.values.diameter).toBeUndefined();
    expect(card.fields.girth.problems).toEqual([
      {
        code: "badInput",
        message: "This is not a number. Enter a number, such as 31,5.",
        severity: "error",
        pointer: "/girth",
      },
    ]);
    expect((await card.save()).ok).toBe(false);
    expect(save).not.toHaveBeenCalled();
    expect(card.fields.girth.text).toBe("abc");
  });

  test("by code anything of the type can be set, and is a problem if it breaks a constraint", () => {
    const card = newEntry(treeCard, { locale: "en", values: good });
    card.values.girth = 2500;
    card.values.species = "Ulmus" as "Quercus robur";
    expect(codes(card.problems)).toEqual(["notAChoice /species", "rangeOverflow /girth"]);
    expect(card.problems[1]!.message).toBe("Enter 2,000 cm or less.");
    expect(() => (card.values.girth = NaN)).toThrow(/Received|was given NaN.*a finite number/);
    expect(() => (card.values.girth = "5" as never)).toThrow(/"girth" was given "5".*Right would be a finite number/);
    expect(() => ((card.values as { diameter: number }).diameter = 5)).toThrow(/"diameter" is calculated/);
    expect(() => ((card.values as Record<string, unknown>)["girht"] = 5)).toThrow(
      /"girht" is not known.*Did you mean "girth"/,
    );
    expect(() => (card.fields as Record<string, unknown>)["gurth"]).toThrow(/Did you mean "girth"/);
  });

  test("writing the same value is nothing, and setting the saved value back is no change", () => {
    const card = newEntry(treeCard, { locale: "en", values: { ...good, hazards: ["cavity"] } });
    const react = jest.fn();
    follow(() => ({ ...card.values }), react);
    card.values.girth = 31.5;
    card.values.hazards = ["cavity"];
    expect(react).not.toHaveBeenCalled();
    card.values.girth = 32;
    expect([card.changed, card.changes()]).toEqual([true, { girth: 32 }]);
    card.fields.girth.enter("31.50");
    expect([card.changed, card.changes()]).toEqual([false, {}]);
    card.fields.girth.enter("");
    expect(card.changes()).toEqual({ girth: null });
  });

  test("a follower is told the field and that a person typed", () => {
    const card = newEntry(treeCard, { locale: "en" });
    const react = jest.fn();
    follow(() => card.values.girth, react);
    card.fields.girth.enter("5");
    expect(react).toHaveBeenCalledWith(5, undefined, { cause: "typed", field: card.fields.girth });
    card.values.girth = 6;
    expect(react).toHaveBeenLastCalledWith(6, 5, { cause: "code" });
  });

  test("a blanked default comes back when the field is left", () => {
    const card = newEntry(treeCard, { locale: "en" });
    card.fields.stems.enter("");
    expect(card.values.stems).toBeUndefined();
    card.fields.stems.leave();
    expect(card.values.stems).toBe(1);
    expect(card.fields.stems.text).toBe("1");
  });

  test("the locale may change: values are shown anew, unreadable text is read again", () => {
    const card = newEntry(treeCard, { locale: "en" });
    card.fields.girth.enter("31.5");
    card.fields.fenceCost.enter("1.234,5 x");
    card.locale = "de";
    expect(card.fields.girth.text).toBe("31,5");
    expect(card.fields.fenceCost.text).toBe("1.234,5 x");
    expect(() => (card.locale = "not a locale")).toThrow(/BCP 47/);
  });
});

describe("a calculation that ends at a blank", () => {
  const sizes = model({
    girth: number({ required: true }),
    height: number({ required: true }),
    tall: boolean(),
  });

  test("is worked out again as soon as it could come to something else, by whatever it reads", () => {
    const mode = newEntry(model({ byHeight: boolean({ saved: false }) }));
    let runs = 0;
    const size = sizes.calculated({
      // What is asked first is of another entry: it decides which field is needed at all.
      size: (t) => {
        runs++;
        return mode.values.byHeight ? t.height : t.girth;
      },
      sum: (t) => t.girth + t.height,
      either: (t) => (t.tall ? t.height : t.girth),
    });
    const card = newEntry(size, { values: { height: 3 } });
    const now = () => [card.values.size, card.values.sum, card.values.either];
    expect(now()).toEqual([undefined, undefined, undefined]);
    mode.values.byHeight = true;
    expect(now()).toEqual([3, undefined, undefined]);
    mode.values.byHeight = false;
    expect(now()).toEqual([undefined, undefined, undefined]);
    card.fields.tall.value = true;
    expect(now()).toEqual([undefined, undefined, 3]);
    card.fields.girth.enter("two");
    expect(now()).toEqual([undefined, undefined, 3]);
    card.fields.girth.enter("2");
    expect(now()).toEqual([2, 5, 3]);
    card.fields.girth.enter("");
    card.fields.height.enter("x");
    expect(now()).toEqual([undefined, undefined, undefined]);
    card.fields.height.enter("4");
    card.fields.girth.enter("1");
    expect(now()).toEqual([1, 5, 4]);
    expect(runs).toBeGreaterThan(3);
  });

  test("is not run at all while what it needs first stays blank", () => {
    let runs = 0;
    const card = newEntry(
      sizes.calculated({
        size: (t) => {
          runs++;
          return t.girth * 2;
        },
      }),
    );
    for (const text of ["a", "b", "", "c"]) {
      card.fields.girth.enter(text);
      expect(card.values.size).toBeUndefined();
    }
    expect(runs).toBe(1);
    card.fields.girth.enter("4");
    expect([card.values.size, runs]).toEqual([8, 2]);
  });
});

describe("problems", () => {
  test("are in the field at once, and visible after it was left changed, or a save was tried", async () => {
    const card = newEntry(treeCard, { locale: "en" });
    expect(codes(card.problems)).toEqual(["valueMissing /tag", "valueMissing /species", "valueMissing /girth"]);
    expect(card.visibleProblems).toEqual([]);
    card.fields.girth.leave();
    expect(card.visibleProblems).toEqual([]);
    card.fields.girth.enter("-1");
    expect(card.visibleProblems).toEqual([]);
    card.fields.girth.leave();
    expect(codes(card.visibleProblems)).toEqual(["rangeUnderflow /girth"]);
    card.fields.girth.enter("");
    expect(codes(card.visibleProblems)).toEqual(["valueMissing /girth"]);
    await card.save();
    expect(card.visibleProblems).toEqual(card.problems);
    card.revert();
    expect(card.visibleProblems).toEqual([]);
  });

  test("say what is expected", () => {
    const card = newEntry(treeCard, { locale: "en" });
    card.fields.tag.enter("oak");
    card.fields.stems.enter("1.5");
    card.fields.hazards.value = ["leaning", "cavity"];
    card.fields.notes.enter("🌳".repeat(21));
    expect(card.problems.map(({ code, message }) => `${code}: ${message}`)).toEqual([
      "patternMismatch: Enter it like AB-0042.",
      "valueMissing: Choose one.",
      "tooMany: Give at most 1.",
      "badInput: This is not a whole number. Enter a whole number, such as 12.",
      "valueMissing: Enter a value.",
      "tooLong: At most 20 characters; this has 21.",
    ]);
    card.fields.tag.enter("   ");
    expect(card.fields.tag.problems[0]).toMatchObject({
      code: "valueMissing",
      message: "Enter a value, such as AB-0042.",
    });
  });

  test("a rule runs again only when something that it read has changed, and is blank while a required field is", () => {
    const holds = jest.fn((t: { girth: number; notes: string }) => t.girth < 100 || t.notes !== "");
    const card = newEntry(
      model({ girth: number({ required: true }), notes: text(), tag: text() }).rule("bigNeedsNote", {
        shownAt: ["notes"],
        message: "Say why.",
        holds,
      }),
      { locale: "en" },
    );
    follow(() => card.problems, jest.fn());
    expect(codes(card.problems)).toEqual(["valueMissing /girth"]);
    expect(holds).toHaveBeenCalledTimes(1);
    card.values.tag = "x";
    expect(holds).toHaveBeenCalledTimes(1);
    card.values.girth = 200;
    expect(codes(card.problems)).toEqual(["bigNeedsNote /notes"]);
    card.fields.girth.enter("abc");
    expect(codes(card.problems)).toEqual(["badInput /girth"]);
    expect(holds).toHaveBeenCalledTimes(3);
  });

  test("a rule that throws, or gives no verdict, is reported once with its name and holds", () => {
    const reported: string[] = [];
    const report = platform.report;
    platform.report = (error) => reported.push(String(error));
    const bad = model({ girth: number(), stems: integer() })
      .rule("broken", { holds: (t) => (t as unknown as { x: { y: boolean } }).x.y })
      .rule("numbering", { holds: () => 1 as never })
      .calculated({ half: (t) => JSON.parse(`{${t.girth}`) as number });
    const card = newEntry(bad, { locale: "en" });
    follow(() => [card.problems, card.values.half], jest.fn());
    card.values.girth = 2;
    card.values.girth = 3;
    platform.report = report;
    expect(card.problems).toEqual([]);
    expect(reported.length).toBe(3);
    expect(reported.join()).toMatch(/rule "broken" threw/);
    expect(reported.join()).toMatch(/rule "numbering" returned no verdict/);
    expect(reported.join()).toMatch(/calculation of "half" threw/);
  });

  test("an irrelevant field is blank to values and row, keeps what was there, and is not checked", () => {
    const card = newEntry(treeCard, { locale: "en", values: { ...good, fenced: true, fenceCost: -5 } });
    expect(codes(card.problems)).toEqual(["rangeUnderflow /fenceCost"]);
    card.values.fenced = false;
    expect(card.fields.fenceCost.relevant).toBe(false);
    expect([card.values.fenceCost, card.row().fenceCost, card.fields.fenceCost.value]).toEqual([
      undefined,
      undefined,
      -5,
    ]);
    expect(card.problems).toEqual([]);
    card.values.fenced = true;
    expect(card.values.fenceCost).toBe(-5);
  });

  test("required and read-only may depend on the row", () => {
    const m = model({ condition: integer(), notes: text() })
      .required({ notes: (t) => t.condition === 3 })
      .readOnly({ condition: (t) => t.notes === "closed" });
    const card = newEntry(m, { locale: "en" });
    expect([card.fields.notes.required, card.fields.condition.readOnly]).toEqual([false, false]);
    card.values.condition = 3;
    expect(codes(card.problems)).toEqual(["valueMissing /notes"]);
    card.values.notes = "closed";
    expect(card.fields.condition.readOnly).toBe(true);
  });

  test("an entry of 10,000 fields finds its problems through a tree", () => {
    const names = Array.from({ length: 10_000 }, (_, place) => `f${place}`);
    const card = newEntry(model(Object.fromEntries(names.map((name) => [name, integer({ maximum: 10 })]))), {
      locale: "en",
    });
    let seen = 0;
    follow(
      () => card.problems,
      (problems) => (seen = problems.length),
    );
    const fields = card.fields as Record<string, { value: number }>;
    fields["f7"]!.value = 11;
    fields["f9999"]!.value = 11;
    expect(codes(card.problems)).toEqual(["rangeOverflow /f7", "rangeOverflow /f9999"]);
    expect(seen).toBe(2);
  });
});

describe("saving", () => {
  test("gives the row that the checks saw; later typing stays changed", async () => {
    let written: unknown;
    let release = (): void => {};
    const card = newEntry(treeCard, {
      locale: "en",
      values: good,
      save: (row) => new Promise<void>((resolve) => ((written = row), (release = resolve))),
    });
    const first = card.save();
    expect(card.busy).toBe(true);
    card.fields.girth.enter("40");
    expect(card.save()).toBe(first);
    release();
    const result = await first;
    expect(result).toEqual({ ok: true, row: written, said: "Saved AB-0042." });
    expect(written).toEqual({
      tag: "AB-0042",
      species: "Quercus robur",
      condition: 1,
      hazards: [],
      stems: 1,
      girth: 31.5,
      fenced: false,
      fenceCost: undefined,
      notes: "",
    });
    expect([card.busy, card.values.girth, card.changes()]).toEqual([false, 40, { girth: 40 }]);
  });

  test("a failed write leaves everything in place, says why, and can be tried again", async () => {
    let fails = true;
    const card = newEntry(treeCard, {
      locale: "en",
      values: good,
      save: () => {
        if (fails) throw new Error("The file trees.ndjson can't be written");
        return { place: "trees.ndjson" };
      },
    });
    card.fields.notes.enter("by the gate");
    expect(await card.save()).toEqual({
      ok: false,
      problems: [
        {
          code: "notSaved",
          message: "Not saved: The file trees.ndjson can't be written. What you entered is still here; try again.",
          severity: "error",
          pointer: "",
        },
      ],
    });
    expect([card.values.notes, card.changed]).toEqual(["by the gate", true]);
    fails = false;
    expect(await card.save()).toMatchObject({ ok: true, said: "Saved AB-0042 to trees.ndjson." });
    expect(card.changed).toBe(false);
  });

  test("afterSave: startNew begins blank with defaults, and keeps what was typed meanwhile", async () => {
    let release = (): void => {};
    const card = newEntry(treeCard, {
      locale: "en",
      afterSave: "startNew",
      save: () => new Promise<void>((resolve) => (release = resolve)),
    });
    transaction(() => Object.assign(card.values, good));
    const saving = card.save();
    card.fields.notes.enter("for the next one");
    release();
    await saving;
    expect({ ...card.values }).toMatchObject({ tag: "", girth: undefined, stems: 1, notes: "for the next one" });
    expect([card[internal].rowsBegun, card.visibleProblems]).toEqual([1, []]);
  });

  test("an unchanged edited entry writes nothing; a changed one does", async () => {
    const save = jest.fn<() => void>();
    const row = { ...newEntry(treeCard, { values: good }).row() };
    const card = editEntry(treeCard, row, { locale: "en", save });
    expect((await card.save()).ok).toBe(true);
    expect(save).not.toHaveBeenCalled();
    card.values.girth = 33;
    await card.save();
    expect(save).toHaveBeenCalledTimes(1);
    expect(card.changed).toBe(false);
  });

  test("warnings do not keep a row from being saved", async () => {
    const m = model({ girth: number() }).rule("large", {
      shownAt: ["girth"],
      severity: "warning",
      holds: (t) => (t.girth ?? 0) < 500 || "Very large.",
    });
    const card = newEntry(m, { locale: "en", values: { girth: 600 }, save: () => "kept" });
    expect(card.valid).toBe(true);
    expect((await card.save()).ok).toBe(true);
  });
});

describe("declaring", () => {
  test.each<[string, () => unknown, RegExp]>([
    ["an integer-like name", () => model({ 12: text() }), /"12": a name that is a whole number/],
    [
      "several refused names at once",
      () => model({ "a.b": text(), "-x": text(), constructor: text() }),
      /"a\.b".*"-x".*"constructor"/,
    ],
    ["__proto__ in a literal", () => model({ ["__proto__"]: text() }), /__proto__/],
    [
      "a misspelled option",
      () => number({ minimun: 1 } as never),
      /option of number\(\) "minimun".*Did you mean "minimum"/,
    ],
    [
      "a default of another type",
      () => integer({ default: 1.5 }),
      /option default of integer\(\) is not a whole number/,
    ],
    [
      "limits the wrong way round",
      () => number({ minimum: 5, maximum: 1 }),
      /maximum of number\(\) can't be 1.*at least the minimum, 5/,
    ],
    ["a broken pattern", () => text({ pattern: "[" }), /pattern of text\(\) can't be "\["/],
    ["no choices", () => oneOf([]), /needs a list of choices/],
    ["two choices of one value", () => oneOf(["a", "a"]), /same value/],
    ["a rule named like a code", () => treeCard.rule("badInput", { holds: () => true }), /taken by a code/],
    ["a rule twice", () => treeCard.rule("failingNeedsNote", { holds: () => true }), /taken by a rule/],
    [
      "an unknown field in shownAt",
      () => treeCard.rule("x", { shownAt: ["nots" as "notes"], holds: () => true }),
      /Did you mean "notes"/,
    ],
    ["a conditional key", () => treeCard.relevant({ tag: () => true }), /key can't be conditional/],
    [
      "an unknown start value",
      () => newEntry(treeCard, { values: { girht: 5 } as never }),
      /"girht".*Did you mean "girth"/,
    ],
    ["a start value of another type", () => newEntry(treeCard, { values: { girth: "5" } as never }), /of another type/],
  ])("%s is an error that says what would be right", (_, declare, message) => {
    expect(declare).toThrow(message);
  });

  test("calculations that read each other are named", () => {
    const m = model({ girth: number() })
      .calculated({ a: (t) => (t as unknown as { b: number }).b + 1 })
      .calculated({ b: (t) => t.a + 1 });
    expect(() => newEntry(m).values.a).toThrow(/ring: a → b → a/);
  });
});
