/** Compiled, not run: what the types of a model say, exactly; `tsc` fails when one of them is wrong. */
import {
  boolean,
  choiceList,
  decimal,
  group,
  integer,
  list,
  model,
  number,
  oneOf,
  type RowOf,
  someOf,
  text,
  type ValuesOf,
} from "../../src/model/index.ts";
import type { Decimal } from "../../src/notation/index.ts";

type Exact<A, B> = (<T>() => T extends A ? 1 : 2) extends <T>() => T extends B ? 1 : 2 ? true : false;
const is = <T extends true>(): T | undefined => undefined;

const treeCard = model(
  {
    tag: text({ title: "Tag", required: true, pattern: "[A-Z]{2}-[0-9]{4}", examples: ["AB-0042"] }),
    species: oneOf(["Quercus robur", "Alnus glutinosa"], { required: true }),
    condition: oneOf(
      [
        { const: 1, title: "Thriving" },
        { const: 2, title: "Stressed" },
        { const: 3, title: "Failing" },
      ],
      { default: 1 },
    ),
    hazards: someOf(["leaning", "cavity"]),
    stems: integer({ minimum: 1, default: 1 }),
    girth: number({ required: true, unit: "centimeter" }),
    height: number(),
    fenced: boolean(),
    agreed: boolean({ required: true }),
    fenceCost: number({ required: true }),
    notes: text({ maxLength: 2000 }),
    diameter: number({ unit: "centimeter" }),
  },
  { title: "Tree card", key: "tag" },
)
  .calculated({ diameter: (t) => t.girth / Math.PI })
  .calculated({ ageInYears: (t) => t.diameter * 0.8, label: (t) => `${t.tag} ${t.species}` })
  .relevant({ fenceCost: (t) => t.fenced })
  .rule("failingNeedsNote", { shownAt: ["notes"], holds: (t) => t.condition !== 3 || t.notes !== "" });

type Row = RowOf<typeof treeCard>;
is<Exact<Row["tag"], string>>();
is<Exact<Row["species"], "Quercus robur" | "Alnus glutinosa">>();
is<Exact<Row["condition"], 1 | 2 | 3>>();
is<Exact<Row["hazards"], readonly ("leaning" | "cavity")[]>>();
is<Exact<Row["girth"], number>>();
is<Exact<Row["height"], number | undefined>>();
is<Exact<Row["fenced"], boolean>>();
is<Exact<Row["agreed"], boolean>>();
is<Exact<Row["fenceCost"], number | undefined>>();
is<Exact<Row["notes"], string>>();
is<
  Exact<
    keyof Row,
    | "tag"
    | "species"
    | "condition"
    | "hazards"
    | "stems"
    | "girth"
    | "height"
    | "fenced"
    | "agreed"
    | "fenceCost"
    | "notes"
  >
>();

type Values = ValuesOf<typeof treeCard>;
is<Exact<Values["tag"], string>>();
is<Exact<Values["species"], "Quercus robur" | "Alnus glutinosa" | undefined>>();
is<Exact<Values["agreed"], boolean | undefined>>();
is<Exact<Values["diameter"], number | undefined>>();
is<Exact<Values["label"], string | undefined>>();

const placed = model({
  tag: text({ required: true }),
  place: group({ bed: integer({ required: true }), plot: text(), corner: group({ side: oneOf(["north", "south"]) }) }),
  unit: oneOf(["cm", "inches"], { default: "cm", saved: false }),
  agreed: boolean({ unanswered: true }),
  species: oneOf(choiceList()),
  names: list(text()),
  price: decimal(),
})
  .calculated({ label: (t) => `${t.tag} ${t.place.bed} ${t.place.corner.side ?? ""} ${t.unit}` })
  .proposed({ "place.plot": (t) => t.tag, price: () => undefined })
  .choices({ "place.corner.side": () => ["north"], species: () => [{ const: "QR", title: "Oak" }] })
  .rule("bed", { shownAt: ["place.bed"], holds: (t) => t.place.bed > 0 });
type Placed = RowOf<typeof placed>;
is<Exact<Placed["place"]["bed"], number>>();
is<Exact<Placed["place"]["corner"]["side"], "north" | "south" | undefined>>();
is<Exact<keyof Placed, "tag" | "place" | "agreed" | "species" | "names" | "price">>();
is<Exact<Placed["agreed"], boolean | undefined>>();
is<Exact<Placed["species"], string | undefined>>();
is<Exact<Placed["names"], readonly string[]>>();
type Placing = ValuesOf<typeof placed>;
is<Exact<Placing["place"]["bed"], number | undefined>>();
is<Exact<Placing["unit"], "cm" | "inches" | undefined>>();
is<Exact<Placing["price"], Decimal | undefined>>();
is<Exact<RowOf<ReturnType<typeof placed.relevant<"place.plot">>>["place"]["bed"], number | undefined>>();
// @ts-expect-error: no such field in the group
placed.relevant({ "place.bde": () => true });
// @ts-expect-error: proposed is another type
placed.proposed({ price: () => 5 });
// @ts-expect-error: not one of the values
placed.choices({ "place.corner.side": () => ["west"] });
// @ts-expect-error: no such format
text({ format: "mail" });

// @ts-expect-error: no such field
treeCard.relevant({ fenceCots: () => true });
// @ts-expect-error: no such field in shownAt
treeCard.rule("x", { shownAt: ["nots"], holds: () => true });
// @ts-expect-error: a rule gives true, false or a message
treeCard.rule("x", { holds: () => 5 });
// @ts-expect-error: no such field
treeCard.rule("x", { holds: (t) => t.girht > 0 });
// @ts-expect-error: calculated twice, and the compiler's sentence says so
treeCard.calculated({ diameter: (t) => t.girth });
// @ts-expect-error: the key is no field
model({ tag: text() }, { key: "tga" });
// @ts-expect-error: the default is no choice
oneOf(["a", "b"], { default: "c" });
// @ts-expect-error: an option that there is not
number({ minimun: 1 });
// @ts-expect-error: text has no minimum
text({ minimum: 1 });
