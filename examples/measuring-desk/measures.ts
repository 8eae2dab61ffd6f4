/** What is measured of a tree, and what follows from it. Everything here is of the window: nothing is kept. */
import { boolean, date, integer, model, number, oneOf } from "ironwood";

/** Years that a trunk takes for a centimetre of diameter, by species; made up for Thornbeck. */
export const yearsPerCentimetre: Readonly<Record<string, number>> = {
  "Quercus robur": 2,
  "Tilia cordata": 1.3,
  "Alnus glutinosa": 0.9,
  "Fagus sylvatica": 1.6,
};

const decimal = { maximumFractionDigits: 1 } as const;

export const measures = model(
  {
    language: oneOf(
      [
        { const: "en-GB", title: "English" },
        { const: "de", title: "Deutsch" },
        { const: "ar-EG", title: "العربية" },
      ],
      { title: "Language", default: "en-GB", saved: false },
    ),
    species: oneOf(["Quercus robur", "Tilia cordata", "Alnus glutinosa", "Fagus sylvatica"], {
      title: "Species",
      required: true,
    }),
    measuredOn: date({ title: "Measured on" }),
    tape: oneOf(
      [
        { const: "cm", title: "Centimetres" },
        { const: "inches", title: "Inches" },
      ],
      { title: "Tape", default: "cm", saved: false },
    ),
    centimetres: number({
      title: "Girth",
      required: true,
      unit: "centimeter",
      minimum: 0,
      maximum: 2000,
      display: decimal,
    }),
    inches: number({ title: "Girth in inches", unit: "inch", minimum: 0, step: 0.5, display: decimal }),
    vigour: integer({ title: "Vigour", minimum: 1, maximum: 5, default: 3 }),
    solitary: boolean({ title: "Stands alone" }),
    taken: number({
      title: "Taken down",
      unit: "year",
      display: { maximumFractionDigits: 0, unitDisplay: "long" },
      readOnly: true,
      saved: false,
    }),
    diameter: number({ title: "Diameter", unit: "centimeter", minimum: 0, maximum: 300, display: decimal }),
    ageInYears: number({
      title: "Estimated age",
      unit: "year",
      minimum: 0,
      maximum: 600,
      display: { maximumFractionDigits: 0, unitDisplay: "long" },
    }),
  },
  { title: "Measuring desk" },
)
  .proposed({
    inches: (t) => t.centimetres / 2.54,
    centimetres: (t) => (t.inches === undefined ? undefined : t.inches * 2.54),
  })
  .calculated({ diameter: (t) => t.centimetres / Math.PI })
  // A vigorous tree, and one that stands alone, put on more each year.
  .calculated({
    ageInYears: (t) =>
      t.diameter * yearsPerCentimetre[t.species]! * (1 - (t.vigour - 3) * 0.1) * (t.solitary ? 0.85 : 1),
  })
  .readOnly({ centimetres: (t) => t.tape === "inches", inches: (t) => t.tape === "cm" });
