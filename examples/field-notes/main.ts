/** The page: a form for one note, and the notes that are there. */
import { asDraft, asRows, bindPage } from "ironwood/page";
import { draft, newestFirst, note } from "./desk.ts";

bindPage(document, { note, draft: asDraft(draft), notes: asRows(newestFirst) });
