import { expect, test } from "@jest/globals";
import { command, editEntry, explain, model, newEntry, number, oneOf, text } from "../src/index.ts";

const treeCard = model(
  {
    tag: text({ title: "Tag", required: true }),
    condition: oneOf([
      { const: 1, title: "Thriving" },
      { const: 3, title: "Failing" },
    ]),
    girth: number({ title: "Girth", unit: "centimeter", required: true }),
    fenceCost: number({ title: "Fence cost" }),
    notes: text({ title: "Notes" }),
    keeper: text({ title: "Keeper", writeOnly: true }),
  },
  { title: "Tree card" },
)
  .calculated({ diameter: (t) => t.girth / Math.PI })
  .calculated({ age: (t) => Math.round(t.diameter * 0.8) })
  .relevant({ fenceCost: (t) => t.condition === 3 })
  .required({ notes: (t) => t.condition === 3 && "Say what is wrong with a failing tree." })
  .readOnly({ girth: (t) => t.keeper === "CB" && "CB measures this tree." })
  .rule("thinMustThrive", {
    shownAt: ["condition"],
    message: "A thin tree fails soon.",
    holds: (t) => t.girth > 5 || t.condition !== 3,
  });

const print = (thing: Parameters<typeof explain>[0]): string => `\n${String(explain(thing))}\n`;

test("a calculated value tells what it was made from, down to what was entered", () => {
  const card = newEntry(treeCard, { locale: "en", values: { girth: 31.4 } });
  expect(print(card.fields.age)).toBe(
    `
Age: 8
  diameter: 9.99…
    Girth: 31.4 cm
`.replace("9.99…", String(31.4 / Math.PI)),
  );
  card.fields.girth.enter("abc");
  expect(print(card.fields.age)).toBe(`
Age: blank
  diameter: undefined
    Girth: "abc" can't be read
`);
});

test("a field tells why it is not there, required, read-only or wrong", () => {
  const card = newEntry(treeCard, { locale: "en", values: { tag: "AB-1", girth: 2, condition: 3, keeper: "CB" } });
  expect(print(card.fields.fenceCost)).toBe(`
Fence cost: blank
  relevant: yes
    Condition: Failing
`);
  expect(print(card.fields.notes)).toBe(`
Notes: blank
  required: Say what is wrong with a failing tree.
    Condition: Failing
  error valueMissing at /notes: Say what is wrong with a failing tree.
`);
  expect(print(card.fields.girth)).toBe(`
Girth: 2 cm
  required: yes
  read-only: CB measures this tree.
    Keeper: a secret
`);
  expect(print(card.fields.condition)).toBe(`
Condition: Failing
  error thinMustThrive at /condition: A thin tree fails soon.
    Girth: 2 cm
    Condition: Failing
`);
  card.values.condition = 1;
  expect(print(card.fields.fenceCost)).toBe(`
Fence cost: blank
  relevant: no
    Condition: Thriving
`);
});

test("a command tells why it is refused, and an entry what is wrong with it", () => {
  const card = editEntry(
    treeCard,
    { tag: "AB-1", condition: 1, girth: 9, fenceCost: undefined, notes: "", keeper: "" } as never,
    {
      locale: "en",
    },
  );
  const clear = command({
    title: "Clear",
    allowed: () => card.changed || "There is nothing to clear.",
    run: () => card.revert(),
  });
  expect(print(clear)).toBe(`
Clear: There is nothing to clear.
  what was changed: none
`);
  card.values.tag = "";
  expect(print(clear)).toBe(`
Clear: can run
  what was changed: tag
`);
  expect(print(card)).toBe(`
Tree card: one problem
  error valueMissing at /tag: Enter a value.
`);
  const print2 = command({
    title: "Print",
    allowed: () => card.values.condition === 3 || "Only failing trees are printed.",
    run: () => undefined,
  });
  expect(print(print2)).toBe(`
Print: Only failing trees are printed.
  Condition: Thriving
`);
  expect(JSON.parse(JSON.stringify(explain(print2)))).toEqual({
    what: "Print",
    verdict: "Only failing trees are printed.",
    because: [{ what: "Condition", verdict: "Thriving", because: [] }],
  });
});
