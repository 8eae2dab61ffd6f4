import { afterEach, describe, expect, test } from "@jest/globals";
import {
  addLanguage,
  type Asker,
  boolean,
  editEntry,
  integer,
  mayLeave,
  model,
  newEntry,
  notices,
  number,
  oneOf,
  type Question,
  rows,
  rowsOf,
  setAsker,
  someOf,
  steps,
  text,
} from "../src/index.ts";
import { pressStep, stepCommands } from "../src/control/index.ts";
import { german } from "../src/messages/de/index.ts";

addLanguage(german);

const survey = model(
  {
    plot: text({ title: "Plot", required: true }),
    soil: oneOf(["clay", "sand"], { title: "Soil", required: true }),
    slope: number({ title: "Slope", unit: "degree", default: 0 }),
    wet: boolean({ title: "Wet" }),
    drains: someOf(["ditch", "pipe"], { title: "Drains" }),
    keeper: text({ title: "Keeper", writeOnly: true }),
    trees: number({ title: "Trees", minimum: 1 }),
  },
  { title: "Survey", key: "plot" },
)
  .relevant({ drains: (s) => s.wet })
  .rule("steepSand", {
    shownAt: ["slope"],
    severity: "warning",
    message: "Sand on a steep slope slips.",
    holds: (s) => s.soil !== "sand" || s.slope < 20,
  });

const begin = (options: Parameters<typeof newEntry<typeof survey>>[1] = {}) => {
  const entry = newEntry(survey, { locale: "en", save: () => "Kept.", ...options });
  const route = steps(entry, {
    place: ["plot", "keeper"],
    ground: { fields: ["soil", "slope", "wet"], title: "The ground" },
    water: ["drains"],
    trees: ["trees"],
    summary: [],
  });
  return { entry, route };
};
const rightPlace = (entry: ReturnType<typeof begin>["entry"]): void => void (entry.values.plot = "P-1");

describe("steps", () => {
  test("the next comes only when this one is right, whatever is wrong in later ones", async () => {
    const { entry, route } = begin();
    expect(await route.next()).toMatchObject({ ok: false, problems: [{ code: "valueMissing", pointer: "/plot" }] });
    expect([route.current, entry.visibleProblems.length]).toEqual(["place", 1]);
    rightPlace(entry);
    expect(await route.next()).toEqual({ ok: true });
    expect([route.current, entry.visibleProblems]).toEqual(["ground", []]);
    expect(route.list.map(({ title, current, done, wrong }) => [title, current, done, wrong])).toEqual([
      ["Place", false, true, false],
      ["The ground", true, false, false],
      ["Trees", false, false, false],
      ["Summary", false, false, false],
    ]);
    expect(route.position).toEqual({ number: 2, of: 4, title: "The ground" });
  });

  test("what is typed in a row inside belongs to its step: the next comes only when it is right", async () => {
    const line = model({ species: text({ required: true }), count: integer({ minimum: 1 }) });
    const plan = model({ site: text(), lines: rows(line), notes: text() });
    const entry = newEntry(plan, { locale: "en", save: () => undefined });
    const route = steps(entry, { wanted: ["site", "lines"], notes: ["notes"] });
    const lines = rowsOf(entry, "lines");
    const added = lines.insert({ species: "Acer campestre", count: 2 });
    if (!added.ok) throw new Error("The line was refused.");
    const inside = editEntry(lines, lines.keyOf(added.row));
    inside.fields.count.enter("many");
    const refused = await route.next();
    expect([refused.ok, route.current]).toEqual([false, "wanted"]);
    expect(refused).toMatchObject({ problems: [{ code: "badInput", pointer: "/lines/0/count" }] });
    inside.fields.count.enter("7");
    expect([await route.next(), route.current, entry.values.lines]).toEqual([
      { ok: true },
      "notes",
      [{ species: "Acer campestre", count: 7 }],
    ]);
    // What is wrong in a step that lies behind does not keep anybody in this one.
    inside.fields.count.enter("few");
    expect([(await route.check()).length, (await route.finish()).ok, route.current]).toEqual([0, false, "wanted"]);
  });

  test("a step is passed over while it is not relevant, and going back keeps everything", async () => {
    const { entry, route } = begin();
    rightPlace(entry);
    await route.next();
    entry.fields.soil.choose("clay");
    entry.fields.slope.enter("12");
    await route.next();
    expect(route.current).toBe("trees");
    route.back();
    entry.values.wet = true;
    await route.next();
    expect(route.current).toBe("water");
    entry.values.drains = ["ditch"];
    entry.values.wet = false;
    expect(route.current).toBe("ground");
    expect(route.back()).toBe(true);
    expect(route.back()).toBe(false);
    expect({ ...entry.values }).toMatchObject({ plot: "P-1", soil: "clay", slope: 12 });
  });

  test("jumping on stops at the first step that is not right; jumping back never does", async () => {
    const { entry, route } = begin();
    rightPlace(entry);
    expect(await route.goTo("summary")).toMatchObject({ ok: false, problems: [{ pointer: "/soil" }] });
    expect(route.current).toBe("ground");
    entry.values.soil = "clay";
    expect(await route.goTo("summary")).toEqual({ ok: true });
    entry.values.plot = "";
    expect(await route.goTo("place")).toEqual({ ok: true });
    expect(route.list[0]).toMatchObject({ wrong: true });
    await expect(route.goTo("gruond" as "ground")).rejects.toThrow(/"gruond".*ground/s);
  });

  test("the summary says what was chosen, in words, and that nothing was", () => {
    const { entry, route } = begin();
    rightPlace(entry);
    entry.values.slope = 12;
    entry.values.keeper = "secret";
    entry.values.wet = true;
    expect(
      route.summary.map(({ title, items }) => [title, ...items.map(({ title: t, text: x }) => `${t}: ${x}`)]),
    ).toEqual([
      ["Place", "Plot: P-1"],
      ["The ground", "Soil: nothing chosen", "Slope: 12 deg", "Wet: yes"],
      ["Water", "Drains: nothing chosen"],
      ["Trees", "Trees: nothing entered"],
    ]);
  });

  test("finishing goes to what is wrong, saves when all is right, and begins anew where that is wanted", async () => {
    const rows: unknown[] = [];
    const { entry, route } = begin({ save: (row) => void rows.push(row), afterSave: "startNew" });
    expect(await route.finish()).toMatchObject({ ok: false });
    expect(route.current).toBe("place");
    rightPlace(entry);
    entry.values.soil = "clay";
    await route.goTo("summary");
    expect(await route.finish()).toMatchObject({ ok: true, row: { plot: "P-1", soil: "clay" } });
    expect([rows.length, route.current, entry.values.plot, route.list.some(({ done }) => done)]).toEqual([
      1,
      "place",
      "",
      false,
    ]);
  });

  test("mistakes of the builder are told", () => {
    const { entry } = begin();
    expect(() => steps(entry, { a: ["plott" as "plot"] })).toThrow(/"plott".*plot/s);
    expect(() => steps(entry, { a: ["plot"], b: ["plot"] })).toThrow(/"plot" is in the steps "a" and "b"/);
    expect(() => steps(entry, {})).toThrow(/no steps/);
  });
});

describe("pressing", () => {
  test("next says which step it is, why it is refused, and stops once for a warning", async () => {
    const { entry, route } = begin();
    const refused: string[] = [];
    const { next, back, finish } = stepCommands(route, (problems) =>
      refused.push(...problems.map(({ pointer }) => pointer)),
    );
    expect([back.reason, next.relevant, finish.relevant]).toEqual(["This is the first step.", true, false]);
    expect(await next.run()).toEqual({ ok: false, said: "1 entry here needs your attention first." });
    expect(refused.splice(0)).toEqual(["/plot"]);
    rightPlace(entry);
    expect(await next.run()).toEqual({ ok: true, said: "Step 2 of 4: The ground" });
    entry.values.soil = "sand";
    entry.values.slope = 30;
    await next.run();
    expect([route.current, notices.latest?.text, refused.splice(0)]).toEqual([
      "ground",
      "Look at 1 warning. To go on all the same, press again.",
      ["/slope"],
    ]);
    await next.run();
    expect(route.current).toBe("trees");
    expect(await back.run()).toEqual({ ok: true, said: "Step 2 of 4: The ground" });
    await pressStep(route, "summary", () => undefined);
    expect([route.current, notices.latest?.text]).toEqual(["summary", "Step 4 of 4: Summary"]);
    expect(await finish.run()).toEqual({ ok: true, said: "Kept." });
  });

  test("a step that can't be reached says which comes first, in the reader's language", async () => {
    const { route } = begin({ locale: "de" });
    const refused: string[] = [];
    await pressStep(route, "summary", (problems) => refused.push(...problems.map(({ pointer }) => pointer)));
    expect([notices.latest?.text, refused]).toEqual(["Schließen Sie zuerst den Schritt Place ab.", ["/plot"]]);
  });

  test("a write that fails says so and stays at the last step", async () => {
    const { entry, route } = begin({ save: () => Promise.reject(new Error("The disk is full.")) });
    rightPlace(entry);
    entry.values.soil = "clay";
    await route.goTo("summary");
    const { finish } = stepCommands(route, () => undefined);
    expect((await finish.run()).said).toBe("Not saved: The disk is full. What you entered is still here; try again.");
    expect(route.current).toBe("summary");
  });
});

describe("leaving", () => {
  const asked: Question[] = [];
  const set: { stop(): void }[] = [];
  const answering = (answer: string | undefined): Asker => ({
    ask: (question) => {
      asked.push(question);
      return Promise.resolve(answer);
    },
    word: (name) => name,
  });
  afterEach(() => {
    asked.length = 0;
    for (const one of set.splice(0)) one.stop();
  });

  test("asks nothing when nothing is lost, also when nobody could be asked", async () => {
    expect(await mayLeave(begin().entry)).toBe(true);
  });

  test("asks save, leave or stay, and does it", async () => {
    const { entry } = begin();
    entry.fields.slope.enter("steep");
    set.push(setAsker(answering("stay")));
    expect(await mayLeave(entry)).toBe(false);
    expect(asked[0]).toEqual({
      text: "Survey has changes that are not saved.",
      title: undefined,
      answers: [
        { value: "save", title: "Save" },
        { value: "leave", title: "Leave without saving" },
        { value: "stay", title: "Stay here" },
      ],
    });
    set.push(setAsker(answering("save")));
    expect(await mayLeave(entry)).toBe(false);
    expect(entry.visibleProblems.map(({ code }) => code)).toEqual(["valueMissing", "valueMissing", "badInput"]);
    set.push(setAsker(answering(undefined)));
    expect(await mayLeave([entry])).toBe(false);
    set.push(setAsker(answering("leave")));
    expect(await mayLeave(entry)).toBe(true);
    expect(entry.changed).toBe(false);
  });

  test("what has nowhere to be saved is left or not", async () => {
    const row = { plot: "P-1", soil: "clay", slope: 1, wet: false, drains: [], keeper: "", trees: 3 } as const;
    const entry = editEntry(survey, row, { locale: "en" });
    entry.values.trees = 4;
    set.push(setAsker(answering("leave")));
    await mayLeave(entry);
    expect(asked[0]!.answers!.map(({ value }) => value)).toEqual(["leave", "stay"]);
  });

  test("without anybody to ask it is a mistake of the builder", async () => {
    const { entry } = begin();
    entry.values.plot = "P-2";
    await expect(mayLeave(entry)).rejects.toThrow(/Nobody is there to ask.*setAsker/s);
  });
});
