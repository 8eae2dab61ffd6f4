/** What the field notes know and do: the note that is written, its draft, and those that are there. No page. */
import { newEntry, notices, table, view } from "ironwood";
import { browserDrafts, httpStore } from "ironwood/browser";
import { keep, keepDraft } from "ironwood/store";
import { servedTables } from "../servedTables.ts";
import { categoryKept, fieldNote, newCategories } from "./notes.ts";

const locale = "en-GB";
const categories = newCategories();
const model = fieldNote(categories);
const folder = httpStore("../service/notes", model);

export const note = newEntry(model, {
  locale,
  afterSave: "startNew",
  save: (row, { signal }) => folder.append(row, { signal }),
});

/** What is typed is there again after a crash. */
export const draft = keepDraft(note, browserDrafts(), { name: "field note" });

/** The notes that are there, those of other windows too. */
export const notes = table(model, [], { locale });
export const kept = await keep(notes, servedTables("../service/notes-there", "the field notes").store(model, "notes"));
export const newestFirst = view(notes, { orderBy: "writtenOn descending", searchIn: ["subject", "text", "category"] });

try {
  const titles: string[] = [];
  for await (const each of httpStore("../service/categories", categoryKept).read())
    if (each.ok) titles.push(each.row.title);
  categories.load(titles);
} catch (error) {
  notices.say(`${(error as Error).message} You can choose from the usual categories.`, "warning");
}
