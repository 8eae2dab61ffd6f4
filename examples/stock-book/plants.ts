/** The stock of Thornbeck: its model, and a generator for as many rows as somebody wants to try. No page, no file. */
import { boolean, date, integer, model, number, oneOf, type RowOf, text } from "ironwood";

export const species = [
  "Acer campestre",
  "Alnus glutinosa",
  "Betula pendula",
  "Carpinus betulus",
  "Corylus avellana",
  "Crataegus monogyna",
  "Fagus sylvatica",
  "Ilex aquifolium",
  "Juniperus communis",
  "Malus sylvestris",
  "Pinus sylvestris",
  "Populus tremula",
  "Prunus avium",
  "Pyrus communis",
  "Quercus petraea",
  "Quercus robur",
  "Salix caprea",
  "Sorbus aucuparia",
  "Taxus baccata",
  "Tilia cordata",
  "Ulmus glabra",
  "Viburnum opulus",
] as const;

export const plant = model(
  {
    tag: text({ title: "Tag", required: true, pattern: "[A-Z]{2}-[0-9]{4,7}", examples: ["AB-0042"] }),
    species: oneOf(species, { title: "Species", required: true }),
    bed: integer({ title: "Bed", required: true, minimum: 1, maximum: 120 }),
    height: number({
      title: "Height",
      unit: "centimeter",
      minimum: 5,
      maximum: 900,
      display: { maximumFractionDigits: 0 },
    }),
    count: integer({ title: "Plants", required: true, minimum: 0, maximum: 5000, default: 1 }),
    price: number({
      title: "Price each",
      minimum: 0,
      multipleOf: 0.05,
      display: { minimumFractionDigits: 2, maximumFractionDigits: 2 },
    }),
    worth: number({ title: "Worth", display: { minimumFractionDigits: 2, maximumFractionDigits: 2 } }),
    condition: oneOf(
      [
        { const: 1, title: "Thriving" },
        { const: 2, title: "Stressed" },
        { const: 3, title: "Failing" },
      ],
      { title: "Condition", default: 1 },
    ),
    potted: boolean({ title: "Potted" }),
    sown: date({ title: "Sown", minimum: "2015-01-01" }),
    notes: text({ title: "Notes", maxLength: 400 }),
  },
  { title: "Stock", key: "tag" },
)
  .calculated({ worth: (p) => p.count * (p.price ?? 0) })
  .rule("failingIsNotSold", {
    shownAt: ["price"],
    message: "A failing plant has no price.",
    holds: (p) => p.condition !== 3 || p.price === undefined,
  });

export type Plant = RowOf<typeof plant>;

const words = ["", "", "", "", "north wall", "to be lifted", "reserved", "second sowing", "dry spell", "grafted"];

/** Numbers that look random and are the same each time (a linear congruential generator of 32 bits). */
function numbers(seed: number): () => number {
  let state = seed >>> 0;
  return () => (state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0) / 2 ** 32;
}

/** Makes plants: the same for the same seed. */
export function* plants(count: number, seed = 1): Generator<Plant> {
  const next = numbers(seed);
  const below = (most: number): number => Math.floor(next() * most);
  for (let number = 0; number < count; number++) {
    const condition = next() < 0.86 ? 1 : next() < 0.7 ? 2 : 3;
    const letters = String.fromCharCode(65 + (number % 26), 65 + (Math.floor(number / 26) % 26));
    yield {
      tag: `${letters}-${String(number + 1).padStart(4, "0")}`,
      species: species[below(species.length)]!,
      bed: 1 + below(120),
      height: next() < 0.05 ? undefined : 20 + below(380),
      count: 1 + below(60),
      price: condition === 3 ? undefined : Math.round((2 + next() * 60) * 20) / 20,
      worth: undefined,
      condition,
      potted: next() < 0.3,
      sown: `${2016 + below(10)}-${String(1 + below(12)).padStart(2, "0")}-${String(1 + below(28)).padStart(2, "0")}`,
      notes: words[below(words.length)]!,
    } as Plant;
  }
}
