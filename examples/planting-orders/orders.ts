/** Planting orders: what a site has asked for, and which plants of the stock go there. No page, no file. */
import { boolean, date, integer, model, number, oneOf, type RowOf, rows, text } from "ironwood";
import { plants, species } from "../stock-book/plants.ts";

/** One line of an order: so many of a species. */
export const wantedLine = model(
  {
    species: oneOf(species, { title: "Species", required: true }),
    count: integer({ title: "Plants", required: true, minimum: 1, maximum: 500, default: 1 }),
    least: number({ title: "At least", unit: "centimeter", minimum: 5, maximum: 900 }),
  },
  { title: "Wanted" },
).rule("tallAreFew", {
  shownAt: ["count"],
  message: "No more than 50 of more than three metres.",
  holds: (line) => (line.least ?? 0) <= 300 || line.count <= 50,
});

export const order = model(
  {
    number: integer({ title: "Number", required: true, minimum: 1 }),
    site: text({ title: "Site", required: true, maxLength: 60 }),
    due: date({ title: "Due" }),
    budget: number({
      title: "Budget",
      required: true,
      minimum: 0,
      display: { minimumFractionDigits: 2, maximumFractionDigits: 2 },
    }),
    lorry: oneOf(
      [
        { const: 400, title: "Van, 400 kg" },
        { const: 1500, title: "Small lorry, 1,500 kg" },
        { const: 6000, title: "Lorry, 6,000 kg" },
      ],
      { title: "Lorry", required: true },
    ),
    wanted: rows(wantedLine, { title: "Wanted" }),
    plants: integer({ title: "Plants wanted", maximum: 1000 }),
  },
  { title: "Planting order", key: "number" },
).calculated({ plants: (o) => o.wanted.reduce((sum, { count }) => sum + count, 0) });

/** Plants of the stock that go to a site. */
export const allotted = model(
  {
    order: integer({ title: "Order", required: true }),
    load: integer({ title: "Load", description: "Which comes onto the lorry first", minimum: 1 }),
    tag: text({ title: "Tag", required: true }),
    species: oneOf(species, { title: "Species", required: true }),
    height: number({ title: "Height", unit: "centimeter" }),
    count: integer({ title: "Plants", required: true, minimum: 1 }),
    price: number({ title: "Price each", display: { minimumFractionDigits: 2, maximumFractionDigits: 2 } }),
    cost: number({ title: "Cost", display: { minimumFractionDigits: 2, maximumFractionDigits: 2 } }),
    weight: number({ title: "Weight", unit: "kilogram", display: { maximumFractionDigits: 0 } }),
  },
  { title: "Plants of an order", key: ["order", "tag"] },
).calculated({
  cost: (line) => line.count * (line.price ?? 0),
  // A root ball of a kilogram, and two for each metre.
  weight: (line) => line.count * (1 + (line.height ?? 100) / 50),
});

/** What has to be done before the lorry of an order leaves, in the order in which it is done. */
export const task = model(
  {
    number: integer({ title: "Number", required: true, minimum: 1 }),
    order: integer({ title: "Order", required: true }),
    place: integer({ title: "Place", minimum: 1 }),
    done: boolean({ title: "Done" }),
    what: text({ title: "What", required: true, maxLength: 60 }),
    when: oneOf(
      [
        { const: "am", title: "Morning" },
        { const: "pm", title: "Afternoon" },
      ],
      { title: "When" },
    ),
  },
  { title: "Task", key: "number" },
).readOnly({ what: (t) => t.done && "It is done.", when: (t) => t.done && "It is done." });

type Task = readonly [order: number, what: string, when: "am" | "pm" | undefined, done: boolean];
const toDo: readonly Task[] = [
  [1, "Lift the rowans", "am", true],
  [1, "Ask the caretaker for the key", "am", false],
  [1, "Load stakes and ties", "pm", false],
  [2, "Cut willow rods", "am", false],
  [2, "Wet the root balls", undefined, false],
  [3, "Book the crane", "am", true],
  [3, "Wrap the crowns", "pm", false],
  [3, "Permit for the road", undefined, false],
];
const tasks: readonly RowOf<typeof task>[] = toDo.map(([order, what, when, done], place) => ({
  number: place + 1,
  order,
  place: place + 1,
  done,
  what,
  when,
}));

const orders: readonly RowOf<typeof order>[] = [
  wantedOf(1, "School yard, Thornbeck", "2026-12-04", 900, 400, [
    ["Sorbus aucuparia", 6, 150],
    ["Corylus avellana", 10, undefined],
  ]),
  wantedOf(2, "River bank, lower fields", "2026-12-11", 4200, 1500, [
    ["Salix caprea", 40, undefined],
    ["Alnus glutinosa", 60, 100],
  ]),
  wantedOf(3, "Avenue to the mill", "2027-02-01", 9800, 6000, [["Tilia cordata", 48, 300]]),
  wantedOf(4, "Hedge at the depot", undefined, 600, 400, [["Crataegus monogyna", 80, undefined]]),
  wantedOf(5, "Arboretum, plot P-17", "2027-03-15", 15000, 6000, [
    ["Quercus petraea", 12, 250],
    ["Ulmus glabra", 8, 250],
  ]),
];

type Line = readonly [kind: (typeof species)[number], count: number, least: number | undefined];

function wantedOf(
  number: number,
  site: string,
  due: string | undefined,
  budget: number,
  lorry: 400 | 1500 | 6000,
  wanted: readonly Line[],
): RowOf<typeof order> {
  const lines = wanted.map(([kind, count, least]) => ({ species: kind, count, least }));
  return { number, site, due, budget, lorry, wanted: lines, plants: undefined } as unknown as RowOf<typeof order>;
}

/** What is planned when nothing has been entered yet, by the names of the tables. */
export const planned = () => ({ stock: [...plants(240, 11)], orders, lines: [], tasks });
