import { afterEach, beforeEach, describe, expect, jest, test } from "@jest/globals";
import { platform, internal } from "../src/engine/index.ts";
import { newEntry } from "../src/entry/index.ts";
import { editEntry } from "../src/index.ts";
import { command, notices } from "../src/command/index.ts";
import { pressSave } from "../src/control/index.ts";
import { german } from "../src/messages/de/index.ts";
import { seeded, times } from "./seeded.ts";
import { addLanguage, model, number, type RuleOptions, text } from "../src/model/index.ts";

/** A registry of plots that answers when the test says so. */
class Registry {
  readonly asked: {
    plot: string;
    aborted: boolean;
    answer(free: boolean | string): void;
    fail(reason: Error): void;
  }[] = [];

  readonly isFree = (
    plot: string,
    signal?: { aborted: boolean; addEventListener(type: "abort", run: () => void): void },
  ) =>
    new Promise<boolean | string>((answer, fail) => {
      const one = { plot, aborted: false, answer, fail };
      signal?.addEventListener("abort", () => (one.aborted = true));
      this.asked.push(one);
    });

  get plots(): string[] {
    return this.asked.map(({ plot }) => plot);
  }
}

type Survey = { plot: string; district: string; area: number | undefined };
const survey = (registry: Registry, options: Partial<RuleOptions<Survey, "plot" | "district" | "area">> = {}) =>
  model(
    {
      plot: text({ title: "Plot", required: true, pattern: "P-[0-9]+", examples: ["P-12"] }),
      district: text({ title: "District" }),
      area: number({ minimum: 0 }),
    },
    { key: "plot" },
  ).rule("plotIsFree", {
    shownAt: ["plot"],
    message: "This plot is being surveyed by somebody else.",
    holds: (row, { signal }) => registry.isFree(row.plot, signal),
    ...options,
  });

addLanguage(german);
beforeEach(() => {
  jest.useFakeTimers();
});
afterEach(() => {
  jest.useRealTimers();
});

const soon = () => jest.advanceTimersByTimeAsync(0);
const quiet = () => jest.advanceTimersByTimeAsync(300);

// The first of this file, as what asks is loaded with the first entry that has such a rule.
test("an entry that is stopped before what asks is loaded asks nothing", async () => {
  const registry = new Registry();
  const entry = newEntry(survey(registry), { values: { plot: "P-1" } });
  entry.stop();
  await jest.advanceTimersByTimeAsync(0);
  for (let turn = 0; turn < 20; turn++) await quiet();
  expect([registry.plots, entry.busy]).toEqual([[], false]);
  // It is loaded by now, and who is not stopped asks.
  newEntry(survey(registry), { values: { plot: "P-2" } });
  for (let turn = 0; turn < 20; turn++) await quiet();
  expect(registry.plots).toEqual(["P-2"]);
});
const codes = (problems: readonly { code: string; severity: string }[]) =>
  problems.map(({ code, severity }) => `${severity} ${code}`);

describe("when a rule asks", () => {
  test("100 quick changes are one question, for the last value, and one visible verdict", async () => {
    const registry = new Registry();
    const entry = newEntry(survey(registry), { locale: "en" });
    const seen: string[][] = [];
    entry.fields.plot[internal].showProblems();
    for (let number = 1; number <= 100; number++) {
      entry.fields.plot.enter(`P-${number}`);
      await jest.advanceTimersByTimeAsync(30);
      seen.push(codes(entry.visibleProblems));
    }
    expect(entry.fields.plot.checking).toBe(true);
    expect(registry.plots).toEqual([]);
    await quiet();
    expect(registry.plots).toEqual(["P-100"]);
    registry.asked[0]!.answer(false);
    await soon();
    expect(seen.flat()).toEqual([]);
    expect(entry.visibleProblems).toEqual([
      {
        code: "plotIsFree",
        message: "This plot is being surveyed by somebody else.",
        severity: "error",
        pointer: "/plot",
      },
    ]);
    expect(entry.fields.plot.checking).toBe(false);
  });

  test("100 changes that are slower than the quiet time abort each question but the last, and drop late answers", async () => {
    const registry = new Registry();
    const entry = newEntry(survey(registry), { locale: "en" });
    for (let number = 1; number <= 100; number++) {
      entry.fields.plot.enter(`P-${number}`);
      await jest.advanceTimersByTimeAsync(400);
    }
    expect(registry.asked.length).toBe(100);
    expect(registry.asked.map(({ aborted }) => aborted)).toEqual([...Array<boolean>(99).fill(true), false]);
    for (const one of registry.asked.slice(0, 99)) one.answer("late");
    await soon();
    expect([entry.fields.plot.checking, codes(entry.problems)]).toEqual([true, []]);
    registry.asked[99]!.answer(true);
    await soon();
    expect([entry.fields.plot.checking, codes(entry.problems)]).toEqual([false, []]);
  });

  test("only once the field is right by itself, and not again for what the rule does not read", async () => {
    const registry = new Registry();
    const entry = newEntry(survey(registry), { locale: "en" });
    await quiet();
    entry.fields.plot.enter("12");
    await quiet();
    expect([registry.plots, entry.fields.plot.checking]).toEqual([[], false]);
    entry.fields.plot.enter("P-12");
    entry.fields.area.enter("-1");
    await quiet();
    registry.asked[0]!.answer(true);
    await soon();
    entry.fields.area.enter("40");
    entry.fields.district.enter("North");
    await quiet();
    expect(registry.plots).toEqual(["P-12"]);
    entry.fields.plot.enter("");
    await quiet();
    expect(codes(entry.problems)).toEqual(["error valueMissing"]);
  });

  test("what is read after an await counts, as it is then", async () => {
    const registry = new Registry();
    const read: string[] = [];
    const entry = newEntry(
      survey(registry, {
        holds: async (row, { signal }) => {
          const free = await registry.isFree(row.plot, signal);
          read.push(row.district);
          return free;
        },
      }),
      { locale: "en" },
    );
    entry.fields.plot.enter("P-1");
    await quiet();
    entry.fields.district.enter("North");
    registry.asked[0]!.answer(true);
    await soon();
    expect(read).toEqual(["North"]);
    expect(entry.checking).toBe(false);
    entry.fields.district.enter("South");
    expect(entry.checking).toBe(true);
    await quiet();
    expect(registry.plots).toEqual(["P-1", "P-1"]);
  });

  test("an edited row is asked about once something was changed in it", async () => {
    const registry = new Registry();
    const row = { plot: "P-1", district: "", area: undefined };
    const entry = editEntry(survey(registry), row, { locale: "en", save: () => "kept" });
    await quiet();
    expect(registry.plots).toEqual([]);
    entry.fields.area.enter("3");
    await quiet();
    expect(registry.plots).toEqual(["P-1"]);
    entry.revert();
    expect([entry.checking, registry.asked[0]!.aborted]).toEqual([false, true]);
  });

  test("an arrow function that returns a promise is one too, from its first promise on", async () => {
    const registry = new Registry();
    const entry = newEntry(survey(registry, { holds: (row) => registry.isFree(row.plot) }), { locale: "en" });
    entry.fields.plot.enter("P-1");
    expect(entry.problems).toEqual([]);
    await quiet();
    entry.fields.plot.enter("P-2");
    entry.fields.plot.enter("P-3");
    await quiet();
    expect(registry.plots).toEqual(["P-1", "P-1", "P-3"]);
    registry.asked[2]!.answer("Taken by CB.");
    await soon();
    expect(entry.problems.map(({ message }) => message)).toEqual(["Taken by CB."]);
  });
});

describe("when the answer does not come", () => {
  test("a rule that fails is a warning that says so; a save asks again", async () => {
    const registry = new Registry();
    const entry = newEntry(survey(registry), { locale: "en", save: () => "kept" });
    entry.fields.plot.enter("P-1");
    await quiet();
    registry.asked[0]!.fail(new Error("the registry is closed"));
    await soon();
    expect(entry.problems).toEqual([
      {
        code: "checkFailed",
        severity: "warning",
        pointer: "/plot",
        message: "This could not be checked: the registry is closed. It can be saved as it is, or try again later.",
      },
    ]);
    entry.locale = "de";
    expect(entry.problems[0]!.message).toMatch(/^Das konnte nicht geprüft werden: the registry is closed\./);
    await jest.advanceTimersByTimeAsync(1_000);
    const saving = entry.save();
    await soon();
    expect(registry.plots).toEqual(["P-1", "P-1"]);
    registry.asked[1]!.answer(false);
    expect(await saving).toMatchObject({ ok: false, problems: [{ code: "plotIsFree" }] });
  });

  test("without an answer in time it is a warning too, and the question is aborted", async () => {
    const registry = new Registry();
    const entry = newEntry(survey(registry, { timeout: 2_500, quiet: 50 }), { locale: "en" });
    entry.fields.plot.enter("P-1");
    await jest.advanceTimersByTimeAsync(50 + 2_499);
    expect(entry.checking).toBe(true);
    await jest.advanceTimersByTimeAsync(1);
    expect(registry.asked[0]!.aborted).toBe(true);
    expect(entry.problems[0]!.message).toBe(
      "This could not be checked: there was no answer within 2.5 seconds. It can be saved as it is, or try again later.",
    );
    registry.asked[0]!.answer(false);
    await soon();
    expect(codes(entry.problems)).toEqual(["warning checkFailed"]);
  });

  test("what gives no verdict is the builder's mistake, and holds", async () => {
    const reported: unknown[] = [];
    jest.spyOn(platform, "report").mockImplementation((error) => void reported.push(error));
    const entry = newEntry(survey(new Registry(), { holds: (() => Promise.resolve(7)) as never, quiet: 0 }), {});
    entry.fields.plot.enter("P-1");
    await quiet();
    expect(entry.problems).toEqual([]);
    expect(String(reported[0])).toMatch(/The rule "plotIsFree" returned no verdict.*7.*true, false or a message/s);
  });

  test.each([
    [{ quiet: -1 }, /quiet: -1/],
    [{ timeout: Number.NaN }, /timeout: NaN/],
  ])("times that are none are refused: %p", (options, message) => {
    expect(() => survey(new Registry(), options)).toThrow(message);
  });
});

describe("a save", () => {
  test("asks at once, waits, is busy meanwhile, and is refused by the answer", async () => {
    const registry = new Registry();
    const save = jest.fn(() => "kept");
    const entry = newEntry(survey(registry), { locale: "en", save });
    entry.fields.plot.enter("P-1");
    const first = entry.save();
    const second = entry.save();
    expect(second).toBe(first);
    await soon();
    expect([registry.plots, entry.busy]).toEqual([["P-1"], true]);
    registry.asked[0]!.answer(false);
    expect(await first).toMatchObject({ ok: false, problems: [{ code: "plotIsFree" }] });
    expect([entry.busy, save.mock.calls.length]).toEqual([false, 0]);
  });

  test("waits for the answer about what was typed while it waited, and writes that", async () => {
    const registry = new Registry();
    const rows: unknown[] = [];
    const entry = newEntry(survey(registry), { locale: "en", save: (row) => void rows.push(row) });
    entry.fields.plot.enter("P-1");
    const saving = entry.save();
    await soon();
    entry.fields.plot.enter("P-2");
    await soon();
    expect([registry.plots, registry.asked[0]!.aborted]).toEqual([["P-1", "P-2"], true]);
    registry.asked[1]!.answer(true);
    expect(await saving).toMatchObject({ ok: true });
    expect(rows).toMatchObject([{ plot: "P-2" }]);
  });

  test("with another error asks nobody", async () => {
    const registry = new Registry();
    const entry = newEntry(survey(registry), { locale: "en" });
    entry.fields.plot.enter("P-1");
    entry.fields.area.enter("-4");
    expect(await entry.save()).toMatchObject({ ok: false, problems: [{ code: "rangeUnderflow" }] });
    expect(registry.plots).toEqual([]);
  });

  test("stops a press once for the warning that it reveals; the next press saves", async () => {
    const registry = new Registry();
    const entry = newEntry(survey(registry), { locale: "en", save: () => "kept" });
    entry.fields.plot.enter("P-1");
    const press = async (): Promise<string> => {
      const pressed = pressSave(entry as never);
      for (let turn = 0; turn < 3; turn++) {
        await soon();
        registry.asked.at(-1)!.fail(new Error("the registry is closed"));
      }
      return (await pressed).what;
    };
    expect(await press()).toBe("warned");
    expect(notices.latest).toMatchObject({
      text: "Not saved yet: look at 1 warning. To save all the same, press again.",
      severity: "warning",
    });
    expect(registry.plots).toEqual(["P-1"]);
    await jest.advanceTimersByTimeAsync(1_000);
    expect(await press()).toBe("saved");
    // A press that checks and then saves asks once.
    expect(registry.plots).toEqual(["P-1", "P-1"]);
  });

  test("does not miss a rule that turns out to ask only now", async () => {
    const registry = new Registry();
    const save = jest.fn(() => "kept");
    const options = { holds: (row: Survey) => registry.isFree(row.plot) };
    const entry = newEntry(survey(registry, options), { locale: "en", save, values: { plot: "P-1" } });
    const saving = entry.save();
    await soon();
    expect(save).not.toHaveBeenCalled();
    for (const one of registry.asked) one.answer(false);
    expect(await saving).toMatchObject({ ok: false, problems: [{ code: "plotIsFree" }] });
    expect(save).not.toHaveBeenCalled();
  });

  test("that is stopped says so, and nothing goes on", async () => {
    const registry = new Registry();
    const save = jest.fn(() => "kept");
    const entry = newEntry(survey(registry), { locale: "en", save });
    entry.fields.plot.enter("P-1");
    const saving = entry.save();
    await soon();
    entry.stop();
    expect(await saving).toMatchObject({ ok: false, problems: [{ code: "notSaved" }] });
    expect([registry.asked[0]!.aborted, save.mock.calls.length, jest.getTimerCount()]).toEqual([true, 0, 0]);
  });
});

test("a view that may only be looked at refuses the press with its reason, and code changes it all the same", async () => {
  const entry = newEntry(survey(new Registry()), { locale: "en", readOnly: () => "This survey is closed." });
  expect([entry.readOnly, entry.fields.plot.readOnly, entry.fields.plot.reason]).toEqual([
    true,
    true,
    "This survey is closed.",
  ]);
  entry.values.plot = "P-1";
  expect(await pressSave(entry as never)).toEqual({ what: "failed" });
  expect(notices.latest?.text).toBe("This survey is closed.");
  expect(command({ allowed: () => !entry.readOnly || entry.reason!, run: () => undefined }).reason).toBe(
    "This survey is closed.",
  );
});

test(`${times(1_000)} random orders of typing, saving and answering: what is written was asked about whole, and everybody agreed`, async () => {
  const random = seeded(4_004);
  /** Whether a rule agrees, known beforehand. */
  const agrees = (rule: string, values: string): boolean => (values.length + rule.length) % 4 !== 0;
  let written = 0;
  let refused = 0;
  for (let sequence = 0; sequence < times(1_000); sequence++) {
    const open: { rule: string; values: string; answer: () => void }[] = [];
    const answered = new Set<string>();
    const ask = (rule: string) => (values: string) =>
      new Promise<boolean>((answer) =>
        open.push({
          rule,
          values,
          answer: () => {
            answered.add(`${rule} ${values} ${agrees(rule, values)}`);
            answer(agrees(rule, values));
          },
        }),
      );
    const [first, second] = [ask("first"), ask("second")];
    const known = (plot: string, district: string) =>
      ["first", "second"].filter((rule) => !answered.has(`${rule} ${plot}|${district} true`));
    const saved: string[] = [];
    const entry = newEntry(
      model({ plot: text(), district: text() })
        .rule("first", { shownAt: ["plot"], message: "No.", holds: (row) => first(`${row.plot}|${row.district}`) })
        .rule("second", {
          shownAt: ["plot", "district"],
          message: "No.",
          // It reads one value in the turn after.
          holds: async (row) => {
            const { plot } = row;
            await Promise.resolve();
            return second(`${plot}|${row.district}`);
          },
        }),
      {
        locale: "en",
        save: ({ plot, district }) => {
          saved.push(...known(plot, district));
          written++;
        },
      },
    );
    const saves: Promise<{ ok: boolean }>[] = [];
    for (let step = 0; step < 12; step++) {
      const what = random.below(5);
      if (what === 0) entry.fields.plot.enter("p".repeat(1 + random.below(5)));
      if (what === 1) entry.fields.district.enter("d".repeat(1 + random.below(5)));
      if (what === 2) saves.push(entry.save());
      if (what === 3) open.splice(random.below(open.length + 1), 1)[0]?.answer();
      await jest.advanceTimersByTimeAsync(random.pick([0, 0, 10, 400]));
    }
    saves.push(entry.save());
    for (let round = 0; round < 40; round++) {
      open.splice(0).forEach(({ answer }) => answer());
      await jest.advanceTimersByTimeAsync(10);
    }
    const results = await Promise.all(saves);
    refused += results.filter(({ ok }) => !ok).length;
    expect({ sequence, saved }).toEqual({ sequence, saved: [] });
    entry.stop();
  }
  expect(Math.min(written, refused)).toBeGreaterThan(times(1_000) / 4);
  console.info(`seed ${random.seed}: ${times(1_000)} sequences, ${written} written, ${refused} refused`);
});

test("a check waits for no answer while something else is wrong, and for the answer when nothing is", async () => {
  const registry = new Registry();
  const entry = newEntry(survey(registry), { values: { plot: "P-1", area: -5 } });
  for (let turn = 0; turn < 5; turn++) await quiet();
  expect(registry.plots).toEqual(["P-1"]);
  let checked: unknown;
  void entry.check().then((problems) => (checked = problems.map(({ code }) => code)));
  await soon();
  expect(checked).toEqual(["rangeUnderflow"]);
  entry.values.area = 5;
  checked = undefined;
  void entry.check().then((problems) => (checked = problems));
  await soon();
  expect(checked).toBeUndefined();
  registry.asked.at(-1)!.answer(true);
  await soon();
  expect(checked).toEqual([]);
});
