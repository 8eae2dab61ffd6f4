import { beforeEach, describe, expect, jest, test } from "@jest/globals";
import fc from "fast-check";
import { command, notices } from "../src/command/index.ts";
import { firstWrong, pressSave, spinnerKey, whatToShow } from "../src/control/index.ts";
import { type Entry, newEntry } from "../src/entry/index.ts";
import { nearestName } from "../src/errors/index.ts";
import { follow, platform } from "../src/engine/index.ts";
import { commandAttribute, commandName } from "../src/markup/index.ts";
import { addLanguage, english, integer, model, number, say, sayOfValues, text } from "../src/model/index.ts";

beforeEach(() => {
  notices.clear();
});

describe("what a text control shows", () => {
  const facts = { focused: true, composing: false, cause: "code", own: false };
  test.each([
    ["without the focus, the display format", { ...facts, focused: false }, "display"],
    ["its own typing stays as it is", { ...facts, cause: "typed", own: true }, "keep"],
    ["its own typing stays, focus or not", { ...facts, focused: false, cause: "typed", own: true }, "keep"],
    ["a change from elsewhere waits", facts, "keep"],
    ["typing in another control of the field waits", { ...facts, cause: "typed" }, "keep"],
    ["a revert rewrites it", { ...facts, cause: "revert" }, "text"],
    ["a new beginning rewrites it", { ...facts, cause: "saved" }, "text"],
    ["while text is composed, later", { ...facts, cause: "revert", composing: true }, "later"],
  ] as const)("%s", (_, given, right) => {
    expect(whatToShow(given)).toBe(right);
  });
});

test("the focus goes to the first wrong control in the order of the page, not of the problems", () => {
  const controls = [{ pointers: ["/tag"] }, { pointers: ["/girth"] }, { pointers: ["/notes"] }];
  expect(firstWrong(controls, [{ pointer: "/notes" }, { pointer: "/girth" }])).toBe(controls[1]);
  expect(firstWrong(controls, [{ pointer: "" }])).toBeUndefined();
});

describe("a spinner", () => {
  test.each([
    [undefined, 1, { minimum: 3 }, 3],
    [undefined, 1, {}, 1],
    [undefined, -1, {}, -1],
    [5, 1, { maximum: 5 }, 5],
    [5, -10, { minimum: 1 }, 1],
    [0.1, 1, { step: 0.1 }, 0.2],
    [0.3, -1, { multipleOf: 0.1 }, 0.2],
    [2.5, 1, { step: 1 }, 3],
    [2.5, -1, { step: 1 }, 2],
    [7, 1, { minimum: 1, step: 5 }, 11],
  ])("from %s, %s steps in %j gives %s", (value, times, limits, right) => {
    expect(number(limits).stepped!(value, times)).toBe(right);
  });

  test("property: stays inside its limits and on its grid", () => {
    const seed = 5;
    fc.assert(
      fc.property(
        fc.integer({ min: -50, max: 50 }),
        fc.integer({ min: -30, max: 30 }),
        fc.constantFrom(0.01, 0.1, 0.25, 1, 5),
        (start, times, step) => {
          const value = number({ minimum: -10, maximum: 10, step }).stepped!(start, times)!;
          expect(value).toBeGreaterThanOrEqual(-10);
          expect(value).toBeLessThanOrEqual(10);
          expect(Math.abs((value + 10) / step - Math.round((value + 10) / step))).toBeLessThan(1e-6);
        },
      ),
      { seed, numRuns: 1_000 },
    );
    console.info(`1000 spinners, seed ${seed}`);
  });

  test("its keys", () => {
    expect(["ArrowUp", "ArrowDown", "PageUp", "PageDown", "a"].map(spinnerKey)).toEqual([1, -1, 10, -10, undefined]);
  });
});

describe("pressing save", () => {
  const tree = model({ tag: text({ required: true }), girth: number() }).rule("large", {
    shownAt: ["girth"],
    severity: "warning",
    holds: (t) => (t.girth ?? 0) < 500 || "This is very large.",
  });

  test("refused: says how many, and what they are", async () => {
    const outcome = await pressSave(newEntry(tree, { locale: "en" }) as unknown as Entry);
    expect(outcome).toMatchObject({ what: "refused", problems: [{ code: "valueMissing" }] });
    expect(notices.latest).toMatchObject({
      text: "Not saved yet: 1 entry needs your attention.",
      severity: "error",
    });
  });

  test("a warning stops once, then it is saved", async () => {
    const save = jest.fn<() => void>();
    const entry = newEntry(tree, { locale: "en", values: { tag: "A", girth: 600 }, save }) as unknown as Entry;
    expect(await pressSave(entry)).toMatchObject({ what: "warned", problems: [{ message: "This is very large." }] });
    expect(save).not.toHaveBeenCalled();
    expect(await pressSave(entry)).toEqual({ what: "saved" });
    expect(save).toHaveBeenCalledTimes(1);
  });
});

describe("commands", () => {
  test("know why they can't run, follow it, say it, and run once at a time", async () => {
    const entry = newEntry(model({ count: integer() }), { locale: "en" });
    let release = (): void => {};
    const run = jest.fn(() => new Promise<string>((resolve) => (release = () => resolve("Moved."))));
    const move = command({ allowed: () => entry.values.count !== undefined || "Say how many.", run });
    const reasons: unknown[] = [];
    follow(
      () => move.reason,
      (reason) => reasons.push(reason),
    );
    expect(await move.run()).toEqual({ ok: false, said: "Say how many." });
    expect(notices.latest?.text).toBe("Say how many.");
    entry.values.count = 3;
    const first = move.run();
    expect([move.busy, move.run() === first]).toEqual([true, true]);
    release();
    expect(await first).toEqual({ ok: true, said: "Moved." });
    expect([move.busy, notices.latest?.text, run.mock.calls.length, reasons]).toEqual([
      false,
      "Moved.",
      1,
      [undefined],
    ]);
  });

  test("tell a failure in its own words, and can be stopped by their signal", async () => {
    const failing = command({ run: () => Promise.reject(new Error("The lorry is full.")) });
    expect(await failing.run()).toEqual({ ok: false, said: "The lorry is full." });
    expect(notices.latest?.severity).toBe("error");
    const slow = command({
      run: ({ signal }) =>
        new Promise<void>((_, reject) => signal.addEventListener("abort", () => reject(new Error("Stopped.")))),
    });
    const running = slow.run();
    slow.stop();
    expect(await running).toEqual({ ok: false, said: "Stopped." });
  });

  test("are found by their attribute and back", () => {
    for (const name of ["save", "addSpecies", "moveToOrder2"]) expect(commandName(commandAttribute(name))).toBe(name);
    expect(commandAttribute("addSpecies")).toBe("--add-species");
  });
});

test("notices are kept to be read again, the last hundred", () => {
  const now = jest.spyOn(platform, "now").mockReturnValue(1_000);
  for (let count = 1; count <= 150; count++) notices.say(`Saved ${count}.`);
  notices.say("");
  now.mockRestore();
  expect(notices.history).toHaveLength(100);
  expect(notices.history.at(-1)).toEqual({
    text: "Saved 150.",
    severity: "information",
    atOnce: false,
    announced: true,
    at: 1_000,
  });
});

test("a language is used for every locale that begins with its tag; a text of it can be replaced", () => {
  expect(sayOfValues("de-AT", "choiceMissing")).toBe("Choose one.");
  addLanguage({ ...english, tag: "de", messages: { ...english.messages, choiceMissing: () => "Wählen Sie." } });
  expect([
    sayOfValues("de-AT", "choiceMissing"),
    sayOfValues("en-GB", "choiceMissing"),
    say("de", "valueMissing"),
  ]).toEqual(["Wählen Sie.", "Choose one.", "Enter a value."]);
});

test.each([
  ["girht", ["girth", "stems"], "girth"],
  ["Girth", ["girth"], "girth"],
  ["fence-cost", ["fenceCost", "fenced"], "fenceCost"],
  ["x", ["girth"], undefined],
  ["species", ["notes", "tag"], undefined],
])("the name nearest to %s in %j is %s", (wanted, names, nearest) => {
  expect(nearestName(wanted, names)).toBe(nearest);
});
