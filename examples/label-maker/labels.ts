/** A label for a tree, as it is printed and hung on. */
import { boolean, choiceList, date, decimal, integer, model, oneOf, text } from "ironwood";

/** The species that labels were made for; a new one is kept by the service. */
export const speciesKept = model({ title: text({ required: true }) });

export const newSpecies = (save?: (title: string) => unknown) =>
  choiceList(["Alnus glutinosa", "Betula pendula", "Fagus sylvatica", "Quercus robur", "Tilia cordata"], { save });

/** @param species - the choices, which may grow */
export const treeLabel = (species = newSpecies()) =>
  model(
    {
      tag: text({
        title: "Tag",
        required: true,
        pattern: "[A-Z]{2}-[0-9]{4}",
        examples: ["AB-0042"],
        tidy: { trim: true, letters: "upper" },
      }),
      species: oneOf(species, { title: "Species", required: true }),
      wording: text({ title: "Wording", maxLength: 120, placeholder: "Planted for the school at Thornbeck" }),
      plantedOn: date({ title: "Planted on", maximum: "2030-12-31" }),
      size: oneOf(
        [
          { const: "S", title: "Small" },
          { const: "M", title: "Middle" },
          { const: "L", title: "Large" },
        ],
        { title: "Size", default: "M" },
      ),
      edge: text({ title: "Edge", format: "color" }),
      punched: boolean({ title: "Hole", titles: ["Punched", "Not punched"], default: true }),
      copies: integer({ title: "Copies", minimum: 1, maximum: 50, default: 1 }),
      price: decimal({
        title: "Price of one",
        minimum: "0",
        multipleOf: "0.01",
        display: { minimumFractionDigits: 2 },
      }),
      askAt: text({ title: "Ask at", format: "email" }),
      caption: text({ title: "Caption" }),
      total: decimal({ title: "Together", display: { minimumFractionDigits: 2 } }),
    },
    { title: "Label", key: "tag" },
  )
    .calculated({ caption: (t) => `${t.tag} · ${t.species}` })
    .calculated({ total: (t) => t.price?.multiply(t.copies) });

/** The label with the species that are there from the start: what the page is checked against before anything runs. */
export const label = treeLabel();
