/** The declaration of a site survey: no page, no file. Who surveys which plot is asked for elsewhere. */
import {
  boolean,
  date,
  group,
  integer,
  model,
  number,
  oneOf,
  type RowOf,
  type RuleContext,
  someOf,
  text,
} from "ironwood";

/** Where it is known which plots are being surveyed, and by whom. */
export interface PlotRegistry {
  /** @returns the initials of who surveys the plot; `undefined` while nobody does */
  keeperOf(plot: string, context: Pick<RuleContext, "signal">): Promise<string | undefined>;
}

/** Trees that do well in a soil. */
const suited: Readonly<Record<string, readonly string[]>> = {
  clay: ["Alnus glutinosa", "Carpinus betulus", "Quercus robur", "Salix alba"],
  loam: ["Acer campestre", "Carpinus betulus", "Fagus sylvatica", "Quercus robur", "Tilia cordata"],
  sand: ["Betula pendula", "Pinus sylvestris", "Quercus petraea", "Sorbus aucuparia"],
  peat: ["Alnus glutinosa", "Betula pubescens", "Salix cinerea"],
};

export const siteSurvey = (registry: PlotRegistry) =>
  model(
    {
      plot: text({
        title: "Plot",
        required: true,
        pattern: "P-[0-9]{2,4}",
        examples: ["P-17"],
        tidy: { trim: true, letters: "upper" },
        messages: { valueMissing: "Give the number on the stake at the entrance, such as P-17." },
      }),
      district: oneOf(["Hill side", "Lower fields", "River bank"], { title: "District", required: true }),
      surveyor: text({ title: "Surveyor", required: true, pattern: "[A-Z]{2,3}", examples: ["CB"], maxLength: 3 }),
      surveyedOn: date({ title: "Surveyed on", required: true }),
      soil: oneOf(
        [
          { const: "clay", title: "Clay" },
          { const: "loam", title: "Loam" },
          { const: "sand", title: "Sand" },
          { const: "peat", title: "Peat" },
        ],
        { title: "Soil", required: true },
      ),
      slope: number({ title: "Slope", unit: "degree", minimum: 0, maximum: 60, display: { unitDisplay: "long" } }),
      wet: boolean({ title: "Stands wet in winter" }),
      drains: someOf(["ditch", "pipes", "soakaway"], { title: "Drains" }),
      area: number({ title: "Area in square metres", required: true, minimum: 1 }),
      purpose: oneOf(["avenue", "orchard", "wood"], { title: "Purpose", required: true }),
      species: oneOf([...new Set(Object.values(suited).flat())], { title: "Main species", required: true }),
      trees: integer({ title: "Trees", required: true, minimum: 1, maximum: 5000 }),
      spacing: number({ title: "Spacing", required: true, unit: "meter", minimum: 0.5, maximum: 30, default: 4 }),
      access: group(
        {
          lorry: boolean({ title: "A lorry can come up to the plot" }),
          gate: number({
            title: "Gate width",
            unit: "meter",
            minimum: 1,
            maximum: 12,
            display: { maximumFractionDigits: 1 },
          }),
          carry: oneOf(["by hand", "barrow", "small tractor"], { title: "How the trees get there" }),
        },
        { title: "Access" },
      ),
      needed: number({ title: "Room they need, in square metres" }),
      remarks: text({ title: "Remarks", maxLength: 1000 }),
    },
    { title: "Site survey", key: "plot" },
  )
    .choices({ species: (s) => suited[s.soil] ?? [] })
    .calculated({ needed: (s) => s.trees * s.spacing ** 2 })
    .relevant({
      drains: (s) => s.wet,
      "access.gate": (s) => s.access.lorry,
      "access.carry": (s) => !s.access.lorry,
    })
    .required({
      "access.gate": (s) => s.access.lorry && "Measure the gate: the lorry has to get through it.",
      drains: (s) => s.wet && "Say what drains a plot that stands wet.",
    })
    .rule("plotIsFree", {
      shownAt: ["plot"],
      async holds(s, { signal }) {
        const keeper = await registry.keeperOf(s.plot, { signal });
        return (
          keeper === undefined ||
          keeper === s.surveyor ||
          `${keeper} is surveying ${s.plot}. Ask them, or take another plot.`
        );
      },
    })
    .rule("roomForAll", {
      shownAt: ["trees", "spacing"],
      message: "So many trees at this spacing need more room than the plot has.",
      holds: (s) => s.needed <= s.area,
    })
    .rule("steepSandSlips", {
      shownAt: ["slope"],
      severity: "warning",
      message: "Sand on a slope of 20 degrees and more slips when it is planted.",
      holds: (s) => s.soil !== "sand" || s.slope === undefined || s.slope < 20,
    });

export type SiteSurvey = RowOf<ReturnType<typeof siteSurvey>>;
