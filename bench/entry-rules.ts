import { follow } from "../src/engine/index.ts";
import { type Field, newEntry } from "../src/entry/index.ts";
import { type AnyModel, integer, type Model, model } from "../src/model/index.ts";
import type { Comparison, Side } from "./harness.ts";

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
  const field = entry.core.field("count0") as Field;
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

const rules = (fields: number): Comparison => ({
  id: `Rules ${fields}`,
  work: `${KEYS.toLocaleString("en")} keys into one of ${fields.toLocaleString("en")} fields with ${((fields * 2) / 3).toLocaleString("en")} rules, all problems followed; by hand: handler that knows its two rules`,
  byHand: () => byHand(fields),
  ironwood: () => ironwood(fields),
  budget: 40,
});

/** The same key presses among more and more other fields: the ratio stays, since no other field is looked at. */
export const entryRules: Comparison[] = [rules(30), rules(300), rules(3_000)];
