import type { AnyModel } from "../../model/index.ts";
import type { Table } from "../../table/index.ts";
import type { KeptRows } from "../KeptRows.ts";
import type { DraftSource } from "./Draft.ts";
import { type DraftRow, DraftRows, isDraftRow } from "./DraftRows.ts";

/** Rows of a table that are not saved, as what a draft is of. */
export function rowsSource<M extends AnyModel>(table: Table<M>, rows: KeptRows<M>): DraftSource<readonly DraftRow[]> {
  const draftRows = new DraftRows(table, rows);
  return {
    get locale() {
      return table.locale;
    },
    model: table.model.title,
    read() {
      const all = draftRows.read();
      return all.length === 0 ? undefined : all;
    },
    isContent: (json): json is readonly DraftRow[] => Array.isArray(json) && json.every(isDraftRow),
    titles: (content) => content.map(({ title }) => title),
    isSaved: (content) => draftRows.isSaved(content),
    take: ({ content, locale }) =>
      content.flatMap((row) => {
        const reason = draftRows.take(row);
        return reason === undefined ? draftRows.enter(row, locale) : [draftRows.notTaken(row, reason)];
      }),
  };
}

/** What the draft of a table is found by: rows of several models may be kept at one place, as in a database. */
export const draftNameOf = (place: string, { title }: AnyModel): string =>
  title === undefined ? `rows of ${place}` : `rows of ${place}: ${title}`;
