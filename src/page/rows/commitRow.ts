import { sayOfRows } from "../../model/index.ts";
import { notices } from "../../command/index.ts";
import type { TableEntryState } from "../../rows/index.ts";
import { titleOfRow, type ViewState } from "../../table/index.ts";

/**
 * Puts what was changed in a row into its table, and says where the row went, or why it is not there.
 *
 * @param kept - called once the row is in the table
 */
export function commitRow(view: ViewState, entry: TableEntryState, kept: () => void): void {
  const { table } = view;
  const { key, slot } = entry;
  if (key === undefined || slot === undefined) return kept();
  const before = view.placeOf(key);
  const wasChanged = entry.changed;
  const done = entry.commit();
  if ("then" in done) {
    void done.then((result) => result.ok && kept());
    return;
  }
  const title = titleOfRow(table, slot);
  if (!done.ok) {
    const { message } = done.problems[0]!;
    notices.sayNow(sayOfRows(table.locale, "rowNotSaved", { title, reason: message }), "error");
    return;
  }
  kept();
  if (wasChanged) sayWhere(view, before, slot, title);
}

function sayWhere(view: ViewState, before: number, slot: number, title: string): void {
  const { table } = view;
  const after = view.placeOf(table.keyAt(slot));
  if (after === before || before < 0) return;
  const place = new Intl.NumberFormat(table.locale).format(after + 1);
  notices.sayNow(
    after < 0 ? sayOfRows(table.locale, "rowLeft", { title }) : sayOfRows(table.locale, "rowWent", { title, place }),
  );
}
