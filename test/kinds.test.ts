import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { newEntry } from "../src/entry/index.ts";
import { editEntry } from "../src/index.ts";
import { follow } from "../src/engine/index.ts";
import { german } from "../src/messages/de/index.ts";
import {
  addLanguage,
  boolean,
  choiceList,
  choiceSearch,
  file,
  group,
  instant,
  integer,
  list,
  model,
  number,
  oneOf,
  type ChosenFile,
  someOf,
  text,
} from "../src/model/index.ts";
import { rows } from "../src/check/index.ts";
import { fromJson, toJson } from "../src/store/index.ts";

const codes = (problems: readonly { code: string }[]): string[] => problems.map(({ code }) => code);

describe("an instant", () => {
  const watered = model({ at: instant({ minimum: "2026-01-01T00:00:00Z" }) });

  test("is read and shown by the clock of the entry's zone, and kept in UTC", () => {
    const card = newEntry(watered, { locale: "en-GB", timeZone: "America/New_York" });
    card.fields.at.enter("23/11/2026, 09:30");
    expect(card.values.at).toBe("2026-11-23T14:30:00Z");
    expect(card.fields.at.display).toBe("23 Nov 2026, 09:30");
    const berlin = editEntry(watered, card.row(), { locale: "de-DE", timeZone: "Europe/Berlin" });
    expect(berlin.fields.at.text).toBe("23.11.2026 15:30");
    berlin.fields.at.enter("1.2.2025 8:00");
    expect(berlin.problems[0]!.message).toMatch(/01\.01\.2026, 01:00 oder später|01\.01\.2026, 01:00 or later/);
  });

  test("a local time that the zone leaves out can't be read, one that it has twice is the earlier", () => {
    const card = newEntry(watered, { locale: "en-GB", timeZone: "Europe/Berlin" });
    card.fields.at.enter("29/03/2026, 02:30");
    expect(codes(card.fields.at.problems)).toEqual(["badInput"]);
    expect(card.fields.at.text).toBe("29/03/2026, 02:30");
    card.fields.at.enter("25/10/2026, 02:30");
    expect(card.values.at).toBe("2026-10-25T00:30:00Z");
  });

  test("property: what is shown in any zone is read back as the same minute, but for the second of a doubled hour", () => {
    const seed = 86_400;
    const zones = ["UTC", "Europe/Berlin", "America/St_Johns", "Asia/Kathmandu", "Pacific/Apia", "Australia/Lord_Howe"];
    const kind = instant();
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 60_000_000 }), fc.constantFrom(...zones), (minutes, zone) => {
        const value = new Date(minutes * 60_000).toISOString().replace(".000Z", "Z");
        const reading = kind.read(kind.edit(value, "en-GB", zone), "en-GB", zone);
        if (!reading.ok) throw new Error(`${value} in ${zone} was not read`);
        const early = Date.parse(value) - Date.parse(reading.value!);
        expect([0, 30 * 60_000, 60 * 60_000]).toContain(early);
        expect(kind.edit(reading.value, "en-GB", zone)).toBe(kind.edit(value, "en-GB", zone));
      }),
      { seed, numRuns: 3_000 },
    );
    console.info(`3000 instants in ${zones.length} zones, seed ${seed}`);
  });

  test("a zone that there is not is refused", () => {
    expect(() => newEntry(watered, { timeZone: "Europe/Thornbeck" })).toThrow(
      /timeZone of newEntry.*"Europe\/Thornbeck".*Berlin/,
    );
  });
});

describe("a group", () => {
  const tree = model({
    tag: text({ required: true }),
    place: group(
      { bed: integer({ required: true, minimum: 1 }), plot: text({ default: "A" }), corner: group({ side: text() }) },
      { title: "Place" },
    ),
  })
    .calculated({ label: (t) => `${t.tag} in ${t.place.bed}${t.place.plot}` })
    .rule("bedTen", { shownAt: ["place.bed"], holds: (t) => t.place.bed !== 10, message: "Bed 10 is closed." });

  test("values nest, are typed, and are followed one by one", () => {
    const card = newEntry(tree, { values: { place: { bed: 7 } } });
    const seen: unknown[] = [];
    follow(
      () => card.values.place.plot,
      (plot) => seen.push(plot),
    );
    card.values.place.plot = "B";
    card.values.place = { bed: 8, plot: "B", corner: { side: "north" } };
    expect(seen).toEqual(["B"]);
    expect(card.values.place.corner.side).toBe("north");
    card.values.tag = "AB-1";
    expect(card.values.label).toBe("AB-1 in 8B");
    expect(card.row()).toEqual({ tag: "AB-1", place: { bed: 8, plot: "B", corner: { side: "north" } } });
    expect(card.changes()).toEqual({ tag: "AB-1", place: { bed: 8, plot: "B", corner: { side: "north" } } });
  });

  test("fields nest, and problems point into the row", () => {
    const card = newEntry(tree, { locale: "en" });
    card.fields.place.fields.bed.enter("0");
    expect(card.fields.place.problems).toMatchObject([{ code: "rangeUnderflow", pointer: "/place/bed" }]);
    card.fields.place.fields.bed.enter("10");
    expect(card.problems.map(({ code, pointer }) => `${code} ${pointer}`)).toEqual([
      "valueMissing /tag",
      "bedTen /place/bed",
    ]);
    expect(card.fields.place.changed).toBe(true);
    card.fields.place.revert();
    expect(card.changed).toBe(false);
    expect(card.fields.place.title).toBe("Place");
  });

  test("is relevant, and can be changed, as a whole", () => {
    const planted = tree.relevant({ place: (t) => t.tag !== "none" }).readOnly({ "place.plot": () => true });
    const card = newEntry(planted, { values: { tag: "none", place: { bed: 3 } } });
    expect(card.fields.place.fields.bed.relevant).toBe(false);
    expect(card.values.place.bed).toBeUndefined();
    expect(card.problems).toEqual([]);
    card.values.tag = "AB-1";
    expect(card.values.place.bed).toBe(3);
    expect([card.fields.place.fields.plot.readOnly, card.fields.place.fields.bed.readOnly]).toEqual([true, false]);
  });

  test("goes to JSON and back, and says what is no member of it", () => {
    const row = { tag: "AB-1", place: { bed: 3, plot: "B", corner: { side: "" } } };
    expect(toJson(tree, row)).toEqual({ tag: "AB-1", place: { bed: 3, plot: "B" } });
    expect(fromJson(tree, toJson(tree, row))).toEqual({ ok: true, row });
    expect(fromJson(tree, { tag: "x", place: { bde: 3 } })).toMatchObject({
      ok: false,
      problems: [{ pointer: "/place/bde", message: 'There is no field "place.bde".' }],
    });
    expect(fromJson(tree, { tag: "x", place: 5 })).toMatchObject({ ok: false, problems: [{ pointer: "/place" }] });
  });

  test("a misspelled name is told from the names of its group", () => {
    const card = newEntry(tree);
    expect(() => (card.values.place as Record<string, unknown>)["bde"]).toThrow(
      /"place.bde" is not known.*"place.bed"/,
    );
    expect(() => newEntry(tree, { values: { place: { bde: 1 } as never } })).toThrow(/"place.bde" is not known/);
  });
});

describe("lists and rows", () => {
  const names = model({ names: list(text({ maxLength: 5 }), { uniqueItems: true, maxItems: 3 }) });

  test("a list is typed one on each line, and each item is checked", () => {
    const card = newEntry(names, { locale: "en" });
    card.fields.names.enter("oak\n\nAlder\noak\ntoo long");
    expect(card.values.names).toEqual(["oak", "Alder", "oak", "too long"]);
    expect(card.problems.map(({ code, pointer }) => `${code} ${pointer}`)).toEqual([
      "duplicate /names/2",
      "tooLong /names/3",
      "tooMany /names",
    ]);
    expect(card.fields.names.text).toBe("oak\n\nAlder\noak\ntoo long");
  });

  test("a list of numbers keeps what can't be read", () => {
    const card = newEntry(model({ girths: list(number()) }), { locale: "de" });
    card.fields.girths.enter("31,5\nabc");
    expect(codes(card.problems)).toEqual(["badInput"]);
    card.fields.girths.enter("31,5\n7");
    expect(card.values.girths).toEqual([31.5, 7]);
    expect(card.fields.girths.text).toBe("31,5\n7");
  });

  test("rows are checked by their own model, and say in which row and column", () => {
    const line = model({ species: text({ required: true }), quantity: integer({ title: "Quantity", minimum: 1 }) });
    const order = model({ lines: rows(line, { minItems: 1 }) });
    const entry = newEntry(order, {
      locale: "en",
      values: {
        lines: [
          { species: "Alnus glutinosa", quantity: 0 },
          { species: "", quantity: 2 },
        ],
      },
    });
    expect(entry.problems).toMatchObject([
      { code: "rangeUnderflow", pointer: "/lines/0/quantity", message: "Row 1, Quantity: Enter 1 or more." },
      { code: "valueMissing", pointer: "/lines/1/species" },
    ]);
    expect(() => {
      entry.values.lines = [{ species: 5 }] as never;
    }).toThrow(/a list of rows/);
    expect(fromJson(order, toJson(order, entry.row()))).toEqual({ ok: true, row: entry.row() });
  });
});

describe("text", () => {
  test.each([
    ["email", "jr@thornbeck.example", "jr@"],
    ["uri", "https://thornbeck.example/beds?n=7", "thornbeck.example"],
    ["tel", "+44 1632 960001", "ring me"],
    ["color", "#3a6b35", "green"],
    ["month", "2026-11", "2026-13"],
    ["week", "2026-W48", "2026-W60"],
  ] as const)("of the format %s", (format, right, wrong) => {
    const card = newEntry(model({ it: text({ format }) }), { locale: "en", values: { it: right } });
    expect(card.problems).toEqual([]);
    card.values.it = wrong;
    expect(card.problems).toMatchObject([{ code: "typeMismatch", message: expect.stringMatching(/^Enter it like /) }]);
  });

  test("of the format uri runs nothing, unless its builder says other schemes", () => {
    const isRight = (it: string, schemes?: readonly string[]): boolean =>
      newEntry(model({ it: text({ format: "uri", schemes }) }), { values: { it } }).valid;
    expect(
      ["https://a.example", "HTTP://a.example", "mailto:a@b.example", "tel:+44"].map((each) => isRight(each)),
    ).toEqual([true, true, true, true]);
    expect(
      ["javascript:alert(1)", "JavaScript:alert(1)", "data:text/html,x", "vbscript:x", "file:///etc", "blob:x"].map(
        (each) => isRight(each),
      ),
    ).toEqual([false, false, false, false, false, false]);
    expect([isRight("ftp://a.example", ["ftp"]), isRight("https://a.example", ["ftp"])]).toEqual([true, false]);
  });

  test("is tidied when it is left, not while it is typed", () => {
    const card = newEntry(model({ tag: text({ tidy: { trim: true, letters: "upper", form: "NFC" } }) }));
    card.fields.tag.enter("  ab-0042 e\u0301 ");
    expect(card.values.tag).toBe("  ab-0042 e\u0301 ");
    card.fields.tag.leave();
    expect(card.values.tag).toBe("AB-0042 É");
  });

  test.each(["tel", "email", "uri"] as const)("a long text can't hang the check of the format %s", (format) => {
    const entry = newEntry(model({ it: text({ format }) }));
    const start = performance.now();
    for (const part of ["1", "a", "a.", "a@a.", "-"]) {
      entry.values.it = `${part.repeat(200_000)}!`;
      expect(entry.problems.length).toBeLessThan(2);
    }
    expect(performance.now() - start).toBeLessThan(2_000);
  });

  test("a format that there is not is refused with the ones that there are", () => {
    expect(() => text({ format: "mail" as never })).toThrow(/format of text\(\) can't be "mail".*email, uri, tel/);
  });
});

describe("a boolean", () => {
  const yard = model({ fenced: boolean(), gated: boolean({ titles: ["Gate", "No gate"] }) }).calculated({
    open: (t) => !t.fenced,
  });

  test("is said in the reader's language, and read in it; captions of one's own stand", () => {
    const card = newEntry(yard, { locale: "de-AT" });
    expect(card.fields.fenced.choices!.map(({ title }) => title)).toEqual(["yes", "no"]);
    addLanguage(german);
    const said = (): string[] => [card.fields.fenced.display, card.fields.open.display, card.fields.gated.display];
    expect(said()).toEqual(["nein", "ja", "No gate"]);
    expect(card.fields.fenced.choices!.map(({ title }) => title)).toEqual(["ja", "nein"]);
    card.fields.fenced.enter(" JA ");
    card.fields.gated.enter("gate");
    expect([card.values.fenced, card.values.gated]).toEqual([true, true]);
    card.fields.fenced.enter("yes");
    expect(codes(card.fields.fenced.problems)).toEqual(["badInput"]);
    card.locale = "en";
    card.fields.fenced.enter("yes");
    expect(said()).toEqual(["yes", "no", "Gate"]);
    expect(card.fields.fenced.choices!.map(({ title }) => title)).toEqual(["yes", "no"]);
  });
});

describe("a boolean that may be left open", () => {
  test("is blank until somebody answers, and may go back to it", async () => {
    const card = newEntry(model({ fenced: boolean({ unanswered: true }) }), { save: () => "kept" });
    expect(card.values.fenced).toBeUndefined();
    card.values.fenced = false;
    expect(card.changed).toBe(true);
    card.values.fenced = undefined;
    expect(await card.save()).toMatchObject({ ok: true, row: { fenced: undefined } });
  });
});

describe("a picked file", () => {
  const photograph = model({ picture: file({ accept: "image/*, .pdf", maximumSize: 2_000_000 }) });
  const picked = (name: string, type: string, size: number): ChosenFile => ({ name, type, size });

  test.each([
    [picked("oak.png", "image/png", 500), []],
    [picked("oak.PDF", "", 500), []],
    [picked("oak.txt", "text/plain", 500), ["typeMismatch"]],
    [picked("oak.png", "image/png", 2_500_000), ["rangeOverflow"]],
  ])("%j has the problems %j", (picture, expected) => {
    const card = newEntry(photograph, { locale: "en", values: { picture } });
    expect(codes(card.problems)).toEqual(expected);
    expect(card.fields.picture.display).toMatch(new RegExp(`^${picture.name} \\(`));
  });
});

describe("choices", () => {
  const cultivars: Record<string, readonly ("Fastigiata" | "Concordia" | "Laciniata")[]> = {
    "Quercus robur": ["Fastigiata", "Concordia"],
    "Alnus glutinosa": ["Laciniata"],
  };
  const tree = model({
    species: oneOf(["Quercus robur", "Alnus glutinosa"], { required: true }),
    cultivar: oneOf(["Fastigiata", { const: "Concordia", title: "Concordia, golden" }, "Laciniata"]),
  }).choices({ cultivar: (t) => cultivars[t.species]! });

  test("depend on other fields; a value that is none of them any more is kept, and a problem", () => {
    const card = newEntry(tree, { locale: "en" });
    expect(card.fields.cultivar.choices).toEqual([]);
    card.values.species = "Quercus robur";
    expect(card.fields.cultivar.choices!.map(({ title }) => title)).toEqual(["Fastigiata", "Concordia, golden"]);
    card.fields.cultivar.enter("concordia, GOLDEN");
    expect(card.values.cultivar).toBe("Concordia");
    expect(card.problems).toEqual([]);
    card.values.species = "Alnus glutinosa";
    expect(card.values.cultivar).toBe("Concordia");
    expect(card.problems).toMatchObject([
      { code: "notAChoice", message: "Concordia, golden is not one of the choices.", pointer: "/cultivar" },
    ]);
    card.values.species = "Quercus robur";
    expect(card.problems).toEqual([]);
  });

  test("of a list depend too, and each foreign value is told", () => {
    const beds = model({ site: text(), beds: someOf([1, 2, 3, 4]) }).choices({
      beds: (t) => (t.site === "north" ? [1, 2] : [3, 4]),
    });
    const entry = newEntry(beds, { locale: "en", values: { site: "north", beds: [1, 4] } });
    expect(entry.problems.map(({ message }) => message)).toEqual(["4 is not one of the choices."]);
  });

  test("grow: blanks and what is there are refused, what can't be kept is not added", async () => {
    const kept: string[] = [];
    let full = false;
    const species = choiceList(["Quercus robur"], {
      save(title) {
        if (full) throw new Error("The disk is full.");
        kept.push(title);
      },
    });
    const card = newEntry(model({ species: oneOf(species) }), { locale: "en" });
    const counts: number[] = [];
    follow(
      () => card.fields.species.choices!.length,
      (count) => counts.push(count),
    );
    expect(await species.add("  ", { locale: "en" })).toEqual({
      ok: false,
      why: "valueMissing",
      message: "Enter a value.",
    });
    expect(await species.add(" quercus ROBUR ", { locale: "de" })).toEqual({
      ok: false,
      why: "duplicate",
      message: "quercus ROBUR gibt es schon.",
    });
    expect(await species.add(" Salix alba ")).toEqual({ ok: true, value: "Salix alba" });
    full = true;
    expect(await species.add("Tilia cordata", { locale: "en" })).toEqual({
      ok: false,
      why: "notSaved",
      message: "Not saved: The disk is full. What you entered is still here.",
      reason: "The disk is full.",
    });
    await expect(species.add(7 as never)).rejects.toThrow(/a text/);
    await expect(species.add("x", { lang: "de" } as never)).rejects.toThrow(/Did you mean|locale/);
    expect([kept, counts]).toEqual([["Salix alba"], [2]]);
    card.fields.species.enter("salix alba");
    expect(card.values.species).toBe("Salix alba");
  });

  test("are asked for: captions are remembered, and a value that was never found is no problem", async () => {
    const species = choiceSearch((typed) =>
      Promise.resolve([{ const: "QR", title: "Quercus robur" }].filter(({ title }) => title.startsWith(typed))),
    );
    const card = newEntry(model({ species: oneOf(species) }), { locale: "en", values: { species: "QR" } });
    expect(card.fields.species.display).toBe("QR");
    await species.find("Quer", new AbortController().signal);
    expect(card.fields.species.display).toBe("Quercus robur");
    expect(card.problems).toEqual([]);
  });
});

describe("what follows others", () => {
  const desk = model({ girth: number({ required: true }), price: number(), reduced: number() })
    .proposed({ price: (t) => t.girth * 2 })
    .calculated({ half: (t) => (t.price ?? 0) / 2 });

  test("a proposed value follows until somebody gives another, and again after revert()", () => {
    const entry = newEntry(desk, { values: { girth: 10 } });
    expect([entry.values.price, entry.fields.price.follows, entry.changed]).toEqual([20, true, false]);
    entry.values.girth = 15;
    expect([entry.values.price, entry.values.half]).toEqual([30, 15]);
    entry.fields.price.enter("35");
    entry.values.girth = 20;
    expect([entry.values.price, entry.fields.price.changed]).toEqual([35, true]);
    entry.fields.price.revert();
    expect([entry.values.price, entry.fields.price.follows]).toEqual([40, true]);
    expect(entry.row()).toEqual({ girth: 20, price: 40, reduced: undefined });
  });

  test("a proposal is blank while what it needs is missing, and applies to new entries only", () => {
    expect(newEntry(desk).values.price).toBeUndefined();
    expect(editEntry(desk, { girth: 10, price: undefined, reduced: undefined }).values.price).toBeUndefined();
  });

  const converted = model({ centimetres: number(), inches: number() }).proposed({
    inches: (t) => t.centimetres! / 2.54,
    centimetres: (t) => t.inches! * 2.54,
  });

  test("two fields convert each other, in no ring and with no drift", () => {
    const entry = newEntry(converted, { locale: "en" });
    expect([entry.values.centimetres, entry.values.inches]).toEqual([undefined, undefined]);
    entry.fields.centimetres.enter("80");
    expect(entry.values.inches).toBeCloseTo(31.496, 3);
    entry.fields.inches.enter("10");
    expect(entry.values.centimetres).toBeCloseTo(25.4, 10);
    entry.fields.centimetres.enter("");
    expect(entry.values.inches).toBeUndefined();
  });

  test("both change at once: nobody sees the two disagree", () => {
    const entry = newEntry(converted, { values: { inches: 10 } });
    const seen: unknown[] = [];
    follow(
      () => [entry.values.centimetres, entry.values.inches],
      (pair) => seen.push(pair),
    );
    entry.fields.centimetres.enter("2.54");
    expect(seen).toEqual([[2.54, 1]]);
  });

  test("of two that convert each other, the one that was entered is changed, and shows what is wrong when it is left", () => {
    const limited = model({ centimetres: number({ maximum: 50 }), inches: number() }).proposed({
      inches: (t) => t.centimetres! / 2.54,
      centimetres: (t) => t.inches! * 2.54,
    });
    for (const watched of [false, true]) {
      const entry = newEntry(limited, { locale: "en" });
      const { centimetres, inches } = entry.fields;
      const stop = watched
        ? follow(
            () => [entry.changed, entry.problems],
            () => undefined,
          )
        : undefined;
      expect(entry.changed).toBe(false);
      centimetres.enter("80");
      centimetres.leave();
      expect([entry.changed, centimetres.visibleProblems.map(({ code }) => code)]).toEqual([true, ["rangeOverflow"]]);
      inches.enter("10");
      expect([entry.changed, inches.changed, centimetres.follows]).toEqual([true, true, true]);
      inches.enter("");
      expect(entry.changed).toBe(false);
      centimetres.enter("wide");
      entry.values.inches = undefined;
      expect([entry.changed, centimetres.text, inches.follows]).toEqual([true, "wide", true]);
      entry.revert();
      expect(entry.changed).toBe(false);
      stop?.stop();
    }
  });

  test("writing what is proposed already changes nothing, and it goes on following", () => {
    const entry = newEntry(converted, { values: { inches: 10 } });
    const shown = entry.values.centimetres;
    entry.values.centimetres = shown;
    expect([entry.fields.inches.follows, entry.fields.centimetres.follows]).toEqual([false, true]);
    const priced = newEntry(desk, { values: { girth: 10 } });
    priced.values.price = 20;
    priced.values.girth = 15;
    expect([priced.values.price, priced.fields.price.follows]).toEqual([30, true]);
  });

  test("a proposal that was blanked and saved is a blank, and no change", async () => {
    const entry = newEntry(desk, { values: { girth: 10 }, save: () => "kept" });
    entry.fields.price.enter("");
    await entry.save();
    expect([entry.values.price, entry.changed]).toEqual([undefined, false]);
    entry.values.girth = 20;
    expect(entry.values.price).toBeUndefined();
  });

  test("property: the one that was entered last stands exactly as it was entered", () => {
    const seed = 254;
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.boolean(), fc.integer({ min: -9_999, max: 9_999 })), { minLength: 1, maxLength: 12 }),
        (steps) => {
          const entry = newEntry(converted);
          for (const [metric, value] of steps) entry.values[metric ? "centimetres" : "inches"] = value / 100;
          const [metric, value] = steps.at(-1)!;
          expect(entry.values[metric ? "centimetres" : "inches"]).toBe(value / 100 + 0);
          expect(entry.values.inches! * 2.54).toBeCloseTo(entry.values.centimetres!, 9);
        },
      ),
      { seed, numRuns: 500 },
    );
    console.info(`500 series of conversions, seed ${seed}`);
  });
});

describe("values of the window only", () => {
  const desk = model({
    girth: number({ required: true }),
    unit: oneOf(["cm", "inches"], { default: "cm", saved: false }),
    estimate: number({ saved: false, readOnly: true }),
  }).calculated({ shown: (t) => `${t.girth} ${t.unit}` });

  test("are bound and checked, are in no row, and are no change", async () => {
    const saved: unknown[] = [];
    const entry = newEntry(desk, { values: { girth: 80 }, save: (row) => void saved.push(row) });
    entry.values.unit = "inches";
    expect([entry.changed, entry.values.shown]).toEqual([false, "80 inches"]);
    entry.values.unit = "feet" as never;
    expect(codes(entry.problems)).toEqual(["notAChoice"]);
    entry.values.unit = "cm";
    await entry.save();
    expect(saved).toEqual([{ girth: 80 }]);
    expect(toJson(desk, entry.row())).toEqual({ girth: 80 });
  });

  test("an answer is out of date once something that it was worked out from is another", () => {
    const entry = newEntry(desk, { values: { girth: 80 } });
    const seen: boolean[] = [];
    follow(
      () => entry.fields.estimate.outOfDate,
      (outOfDate) => seen.push(outOfDate),
    );
    expect(entry.answer("estimate", (t) => t.girth * 0.8)).toBe(64);
    entry.values.unit = "inches";
    expect(seen).toEqual([]);
    entry.values.girth = 90;
    expect([entry.values.estimate, entry.fields.estimate.outOfDate]).toEqual([64, true]);
    entry.values.girth = 80;
    entry.values.girth = undefined;
    expect(entry.fields.estimate.outOfDate).toBe(true);
    expect(entry.answer("estimate", (t) => t.girth * 0.8)).toBeUndefined();
    expect([entry.values.estimate, entry.fields.estimate.outOfDate]).toEqual([undefined, false]);
  });
});
