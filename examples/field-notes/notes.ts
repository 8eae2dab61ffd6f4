/** What is noted outside: a category, a subject and a long text; each note is a file of its own. */
import { choiceList, date, model, oneOf, text } from "ironwood";

/** Categories that the nursery has added; they are read from the service. */
export const categoryKept = model({ title: text({ required: true }) });

/** The usual categories, which are there also when the list of the nursery can't be read. */
export const newCategories = () =>
  choiceList(["Planting", "Pruning", "Pests and disease", "Water", "Visitors", "Other"]);

/** @param categories - the choices, to which those of the nursery are added */
export const fieldNote = (categories = newCategories()) =>
  model(
    {
      writtenOn: date({ title: "Written on", required: true, maximum: "2030-12-31" }),
      category: oneOf(categories, { title: "Category", required: true, default: "Other" }),
      subject: text({
        title: "Subject",
        required: true,
        maxLength: 80,
        placeholder: "Old oak at the gate",
        tidy: { trim: true },
      }),
      text: text({ title: "Note", required: true, maxLength: 20_000 }),
      by: text({ title: "By", pattern: "[A-Z]{2}", examples: ["CB"], tidy: { trim: true, letters: "upper" } }),
    },
    { title: "Note" },
  );

/** The note with the usual categories: what the page is checked against before anything runs. */
export const note = fieldNote();
