/** The declaration of a tree card: no page, no file. */
import { boolean, integer, model, number, oneOf, someOf, text } from "ironwood";

export const treeCard = model(
  {
    tag: text({ title: "Tag", required: true, pattern: "[A-Z]{2}-[0-9]{4}", examples: ["AB-0042"] }),
    species: oneOf(["Quercus robur", "Alnus glutinosa", "Tilia cordata", "Fagus sylvatica", "Betula pendula"], {
      title: "Species",
      required: true,
    }),
    condition: oneOf(
      [
        { const: 1, title: "Thriving" },
        { const: 2, title: "Stressed" },
        { const: 3, title: "Failing" },
      ],
      { title: "Condition", default: 1 },
    ),
    hazards: someOf(["leaning", "cavity", "dead limbs"], { title: "Hazards" }),
    stems: integer({ title: "Stems", minimum: 1, maximum: 12, default: 1 }),
    girth: number({
      title: "Girth",
      required: true,
      unit: "centimeter",
      minimum: 0,
      maximum: 2000,
      display: { maximumFractionDigits: 1 },
    }),
    exposure: integer({ title: "Exposure to wind", minimum: 0, maximum: 10 }),
    fenced: boolean({ title: "Fenced" }),
    fenceCost: number({
      title: "Fence cost",
      minimum: 0,
      display: { minimumFractionDigits: 2, maximumFractionDigits: 2 },
    }),
    notes: text({ title: "Notes", maxLength: 2000 }),
    diameter: number({ title: "Diameter", unit: "centimeter", display: { maximumFractionDigits: 1 } }),
    ageInYears: number({
      title: "Estimated age",
      unit: "year",
      display: { maximumFractionDigits: 0, unitDisplay: "long" },
    }),
  },
  { title: "Tree card", key: "tag" },
)
  .calculated({ diameter: (t) => t.girth / Math.PI })
  .calculated({ ageInYears: (t) => t.diameter * 0.8 })
  .relevant({ fenceCost: (t) => t.fenced })
  .rule("failingNeedsNote", {
    shownAt: ["notes"],
    message: (locale) =>
      locale.startsWith("de")
        ? "Schreiben Sie, was dem absterbenden Baum fehlt."
        : "Say what is wrong with a failing tree.",
    holds: (t) => t.condition !== 3 || t.notes !== "",
  });
