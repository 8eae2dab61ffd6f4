import type { SaveResult } from "../../entry/index.ts";
import { sayOfRows } from "../../model/index.ts";
import { notices } from "../../command/index.ts";
import { leaveOpen, saysGoneEntered, saysGoneHere, type TableEntryState } from "../../rows/index.ts";
import type { ViewState } from "../../table/index.ts";

/**
 * Puts what was changed in a row into its table, and says where the row went, or why it is not there.
 *
 * @param kept - called once there is nothing in the entry that is to be kept: the row is in the table, or gone
 */
export function commitRow(view: ViewState, entry: TableEntryState, kept: () => void): void {
  const { key } = entry;
  if (key === undefined) {
    sayGone(entry);
    return kept();
  }
  const before = view.placeOf(key);
  const wasChanged = entry.changed;
  const finish = (result: SaveResult<unknown>): void => {
    if (!result.ok) return sayNotSaved(entry, result.problems[0]!.message);
    kept();
    if (wasChanged) sayWhere(view, before, entry);
  };
  const done = entry.commit();
  if ("then" in done) void done.then(finish);
  else finish(done);
}

/** Puts what was changed in a row into its table as what shows the row ends; what can't be put there stays in the entry, left open. */
export function commitLast(view: ViewState, entry: TableEntryState): void {
  let isOver = !entry.changed;
  if (!isOver)
    commitRow(view, entry, () => {
      isOver = true;
    });
  if (isOver) entry.stop();
  else leaveOpen(entry, () => sayGone(entry));
}

function sayNotSaved({ key, title, table }: TableEntryState, reason: string): void {
  if (key !== undefined) notices.sayNow(sayOfRows(table.locale, "rowNotSaved", { title, reason }), "error");
}

function sayGone(entry: TableEntryState): void {
  if (entry.changed) notices.sayNow(saysGoneEntered(entry), "error");
}

/** Says to a person who is in a row that others have taken it out of the view. */
export function sayGoneHere(entry: TableEntryState): void {
  const { key, title, locale } = entry;
  if (key === undefined) notices.sayNow(saysGoneHere(entry), "error");
  else notices.sayNow(sayOfRows(locale, "rowLeftHere", { title }), "warning");
}

function sayWhere(view: ViewState, before: number, { key, title }: TableEntryState): void {
  const { table } = view;
  const after = key === undefined ? -1 : view.placeOf(key);
  if (after === before) return;
  const place = new Intl.NumberFormat(table.locale).format(after + 1);
  notices.sayNow(
    after < 0 ? sayOfRows(table.locale, "rowLeft", { title }) : sayOfRows(table.locale, "rowWent", { title, place }),
  );
}
