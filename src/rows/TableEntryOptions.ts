import type { EntryOptions } from "../entry/index.ts";

/** Options of an entry over a row of a table: it is saved into the table. */
export type TableEntryOptions<M> = Omit<EntryOptions<M>, "save" | "values" | "afterSave">;
