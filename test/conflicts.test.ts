import { describe, expect, test } from "@jest/globals";
import { editEntry, model, newEntry, newHistory, number, table, text } from "../src/index.ts";
import { HeadlessControl } from "../src/testing/index.ts";
import { seeded } from "./seeded.ts";

const tree = model(
  {
    tag: text({ title: "Tag", required: true }),
    girth: number({ title: "Girth", unit: "centimeter", maximum: 500 }),
    notes: text({ title: "Notes" }),
    key: text({ title: "Key of the gate", writeOnly: true }),
  },
  { title: "Tree card", key: "tag" },
);
const rows = [{ tag: "AB-0001", girth: 30, notes: "leans", key: "old" }];
const begin = () => {
  const trees = table(tree, rows, { locale: "en", history: newHistory() });
  return { trees, card: editEntry(trees, "AB-0001") };
};

describe("a field that was changed here and elsewhere", () => {
  test("is told at once with both, keeps what was entered, and is not saved until somebody has chosen", async () => {
    const { trees, card } = begin();
    card.fields.girth.enter("31.5");
    expect(card.fields.girth.conflict).toBeUndefined();
    trees.update("AB-0001", { girth: 33.2, notes: "stands" });
    expect(card.fields.girth.conflict).toEqual({ base: 30, mine: 31.5, theirs: 33.2 });
    expect([card.values.girth, card.fields.girth.text, card.values.notes]).toEqual([31.5, "31.5", "stands"]);
    expect(card.fields.girth.visibleProblems).toEqual([
      {
        code: "changedElsewhere",
        message: "Changed elsewhere too. There: 33.2 cm. Here: 31.5 cm.",
        severity: "error",
        pointer: "/girth",
      },
    ]);
    expect([(await card.save()).ok, trees.get("AB-0001")!.girth]).toEqual([false, 33.2]);
    card.fields.girth.resolve("mine");
    expect([card.fields.girth.conflict, card.changes()]).toEqual([undefined, { girth: 31.5 }]);
    expect([(await card.save()).ok, trees.get("AB-0001")!.girth]).toEqual([true, 31.5]);
  });

  test("takes what it is elsewhere, which can be undone", () => {
    const { trees, card } = begin();
    card.fields.girth.enter("31.5");
    trees.update("AB-0001", { girth: 33.2 });
    card.fields.girth.resolve("theirs");
    expect([card.values.girth, card.changed, card.problems]).toEqual([33.2, false, []]);
    card.undo();
    expect(card.values.girth).toBe(31.5);
    card.fields.girth.resolve("theirs");
    expect(card.values.girth).toBe(31.5);
  });

  test("is in no conflict where both came to the same, or where elsewhere another field was changed", () => {
    const { trees, card } = begin();
    card.fields.girth.enter("31.5");
    trees.update("AB-0001", { notes: "stands" });
    expect(card.problems).toEqual([]);
    trees.update("AB-0001", { girth: 31.5 });
    expect([card.fields.girth.conflict, card.changed]).toEqual([undefined, false]);
  });

  test("ends when elsewhere it is again what both began with, and stays one with what came last", () => {
    const { trees, card } = begin();
    card.fields.girth.enter("31.5");
    trees.update("AB-0001", { girth: 33.2 });
    trees.update("AB-0001", { girth: 40 });
    expect(card.fields.girth.conflict).toEqual({ base: 30, mine: 31.5, theirs: 40 });
    trees.update("AB-0001", { girth: 30 });
    expect([card.fields.girth.conflict, card.changes()]).toEqual([undefined, { girth: 31.5 }]);
  });

  test("keeps a text that can't be read, says so beside it, and blank is said in words", () => {
    const { trees, card } = begin();
    card.fields.girth.enter("about 31");
    trees.update("AB-0001", { girth: undefined });
    expect(card.fields.girth.problems.map(({ message }) => message)).toEqual([
      "Changed elsewhere too. There: nothing entered. Here: about 31.",
      "This is not a number. Enter a number, such as 31.5.",
    ]);
    expect(card.fields.girth.conflict).toEqual({ base: 30, mine: undefined, theirs: undefined });
    card.fields.girth.resolve("theirs");
    expect([card.fields.girth.text, card.problems]).toEqual(["", []]);
  });

  test("a revert takes what is elsewhere; who enters something anew has chosen that", () => {
    const { trees, card } = begin();
    card.fields.girth.enter("31.5");
    trees.update("AB-0001", { girth: 33.2 });
    card.revert();
    expect([card.values.girth, card.problems]).toEqual([33.2, []]);
    card.fields.girth.enter("34");
    trees.update("AB-0001", { girth: 35 });
    card.fields.girth.enter("36");
    expect([card.fields.girth.conflict, card.values.girth, card.valid]).toEqual([undefined, 36, true]);
  });

  test("a secret is in no message", () => {
    const { trees, card } = begin();
    card.fields.key.enter("mine");
    trees.update("AB-0001", { key: "theirs" });
    expect(card.problems.map(({ message }) => message)).toEqual(["This was changed elsewhere too."]);
  });
});

describe("code that changes a field in which a person is typing", () => {
  const typing = () => {
    const card = newEntry(tree, { values: { girth: 30 }, locale: "en" });
    const control = new HeadlessControl(card.fields.girth);
    control.type("31.5");
    return { card, control };
  };

  test("has its way, and what was typed is kept to be chosen; it stands in the control until that is left", () => {
    const { card, control } = typing();
    card.values.girth = 33.2;
    expect([card.values.girth, control.text]).toEqual([33.2, "31.5"]);
    expect(control.state.conflict).toEqual({ base: 30, mine: 31.5, theirs: 33.2 });
    control.leave();
    expect(control.text).toBe("33.2 cm");
    control.resolve("mine");
    expect([card.values.girth, control.text, control.state.problems.length]).toEqual([31.5, "31.5 cm", 0]);
  });

  test("who types on goes on with their own, and has to choose all the same", () => {
    const { card, control } = typing();
    card.values.girth = 33.2;
    control.type("31.55");
    expect(control.state.conflict).toEqual({ base: 30, mine: 31.55, theirs: 33.2 });
    const codes = () => card.fields.girth.problems.map(({ code }) => code);
    expect([card.values.girth, codes()]).toEqual([31.55, ["changedElsewhere"]]);
    control.resolve("theirs");
    expect([card.values.girth, control.text, codes()]).toEqual([33.2, "33.2", []]);
  });

  test("is no conflict with the same value, once the control was left, or where it follows from the typing itself", () => {
    const { card, control } = typing();
    card.values.girth = 31.5;
    expect(control.state.conflict).toBeUndefined();
    control.leave();
    card.values.girth = 33.2;
    expect([control.state.conflict, control.text]).toEqual([undefined, "33.2 cm"]);
    card.fields.tag.enter("ab");
    expect(card.fields.tag.conflict).toBeUndefined();
  });
});

test("property: whatever both sides do, what was entered here is in the field or in its conflict", () => {
  const seed = 1_618;
  const random = seeded(seed);
  const fields = ["girth", "notes"] as const;
  const some = { girth: [undefined, 30, 31.5, 33.2], notes: ["", "leans", "stands"] };
  for (let round = 0; round < 1_000; round++) {
    const { trees, card } = begin();
    /** What the person has entered and not given up. */
    const entered = new Map<string, unknown>();
    for (let step = 0; step < 12; step++) {
      const name = random.pick(fields);
      const field = card.fields[name] as unknown as {
        value: unknown;
        conflict: { mine: unknown; theirs: unknown } | undefined;
        resolve(choice: "mine" | "theirs"): void;
        enter(text: string): void;
      };
      const value = random.pick<unknown>(some[name]);
      switch (random.below(4)) {
        case 0:
          field.enter(value === undefined ? "" : String(value));
          entered.set(name, value);
          break;
        case 1:
          trees.update("AB-0001", { [name]: value });
          break;
        case 2:
          field.resolve("mine");
          break;
        default:
          if (field.conflict !== undefined) entered.delete(name);
          field.resolve("theirs");
      }
      for (const [each, mine] of entered) {
        const { value: held, conflict } = card.fields[each as "girth"];
        const kept = trees.get("AB-0001")![each as "girth"];
        // Where both are the same there is nothing left that is only here.
        if (conflict === undefined && held === kept) entered.delete(each);
        else expect({ round, step, each, held }).toEqual({ round, step, each, held: mine });
        if (conflict !== undefined) expect([conflict.mine, conflict.theirs]).toEqual([mine, kept]);
      }
    }
  }
  console.info(`1000 sequences of 12 steps, seed ${seed}`);
});
