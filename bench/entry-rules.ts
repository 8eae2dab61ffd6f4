import { follow, internal } from "../src/engine/index.ts";
import { type Field, newEntry } from "../src/entry/index.ts";
import { type AnyModel, integer, type Model, model } from "../src/model/index.ts";
import { type Measure, ROUNDS, type Side } from "./harness.ts";

const KEYS = 2_000;
const names = (fields: number): string[] => Array.from({ length: fields }, (_, place) => `count${place}`);

/** Two rules for each three fields: a field may not be more than the next, and two together not more than 1,000. */
function modelOf(fields: number): AnyModel {
  let made = model(Object.fromEntries(names(fields).map((name) => [name, integer({ default: 1 })]))) as Model<
    Record<string, ReturnType<typeof integer>>
  >;
  for (let place = 0; place + 1 < fields; place += 3) {
    const [a, b] = [`count${place}`, `count${place + 1}`];
    const read = (row: object, name: string): number => (row as Record<string, number>)[name]!;
    made = made
      .rule(`order${place}`, { shownAt: [a], message: "more", holds: (row) => read(row, a) <= read(row, b) + 900 })
      .rule(`sum${place}`, { shownAt: [b], message: "sum", holds: (row) => read(row, a) + read(row, b) <= 1_000 });
  }
  return made;
}

/** Keys into the first field; what is shown is the number of problems of the whole entry. */
function ironwood(fields: number): Side {
  const entry = newEntry(modelOf(fields), { locale: "en" });
  let shown = 0;
  const following = follow(
    () => entry.problems,
    (problems) => {
      shown = problems.length;
    },
  );
  const field = entry[internal].core.field("count0") as Field;
  return {
    run() {
      for (let key = 0; key < KEYS; key++) field.enter(String(key));
    },
    result: () => [shown, field.value],
    end: () => following.stop(),
  };
}

/** The two rules that the field has part in are called by its handler, which knows them. */
function byHand(fields: number): Side {
  const values = Object.fromEntries(names(fields).map((name) => [name, 1]));
  const problems = new Map<string, string[]>();
  let shown = 0;
  const typed = (text: string): void => {
    const own: string[] = [];
    const trimmed = text.trim();
    if (/^[-−]?\d+$/.test(trimmed)) values["count0"] = Number(trimmed);
    else own.push("This is not a whole number.");
    if (values["count0"]! > values["count1"]! + 900) own.push("more");
    if (values["count0"]! + values["count1"]! > 1_000) problems.set("count1", ["sum"]);
    else problems.delete("count1");
    if (own.length > 0) problems.set("count0", own);
    else problems.delete("count0");
    shown = [...problems.values()].reduce((count, some) => count + some.length, 0);
  };
  return {
    run() {
      for (let key = 0; key < KEYS; key++) typed(String(key));
    },
    result: () => [shown, values["count0"]],
  };
}

const SIZES = [30, 300, 3_000] as const;
const median = (times: number[]): number => times.toSorted((a, b) => a - b)[times.length >> 1]!;

/** The same keys among more and more other fields, in turn: what one costs, and how that grows. */
export function entryRules(): Measure[] {
  const sides = SIZES.map((fields) => ({ fields, ours: ironwood(fields), hand: byHand(fields) }));
  const took = sides.map(() => ({ ours: [] as number[], hand: [] as number[] }));
  for (let round = -3; round < ROUNDS; round++)
    sides.forEach(({ fields, ours, hand }, place) => {
      for (const which of ["hand", "ours"] as const) {
        const start = performance.now();
        (which === "ours" ? ours : hand).run();
        if (round >= 0) took[place]![which].push(((performance.now() - start) / KEYS) * 1_000);
      }
      if (JSON.stringify(ours.result()) !== JSON.stringify(hand.result()))
        throw new Error(`Rules ${fields}: the two sides differ`);
    });
  const each = took.map(({ ours, hand }) => ({ ours: median(ours), hand: median(hand) }));
  for (const { ours } of sides) ours.end?.();
  const growth = each[2]!.ours / each[0]!.ours;
  return [
    ...SIZES.map((fields, place) => ({
      id: `Rules ${fields}`,
      work: `one key into one of ${fields.toLocaleString("en")} fields with ${((fields * 2) / 3).toLocaleString("en")} rules, all problems followed; by hand, a handler that knows its two rules and reads no locale: ${each[place]!.hand.toFixed(2)} µs`,
      value: each[place]!.ours,
      unit: "µs",
      budget: undefined,
      within: true,
    })),
    {
      id: "Rules growth",
      work: "what a key costs among 3,000 fields, to what it costs among 30: no other field is looked at",
      value: growth,
      unit: "×",
      budget: 1.5,
      within: growth <= 1.5,
    },
  ];
}
