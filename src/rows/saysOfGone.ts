import type { FieldState } from "../entry/index.ts";
import { sayOfRows } from "../model/index.ts";

/** What is told of an entry whose row is gone. */
interface GoneEntry {
  readonly title: string;
  readonly locale: string;
  readonly core: { fieldsInUse(): readonly FieldState[] };
}

/** What a person is told who is in a row that was deleted: what is entered there stays to be read, and can't be saved. */
export const saysGoneHere = ({ title, locale }: GoneEntry): string => sayOfRows(locale, "rowGoneHere", { title });

/** Names what was entered in a row that is gone, so that a person can enter it elsewhere. A password is not named. */
export function saysGoneEntered({ core, title, locale }: GoneEntry): string {
  const fields = core.fieldsInUse().filter((field) => field.changed && field.kind.options.writeOnly !== true);
  const value = fields.map((field) => `${field.title}: ${field.text}`).join("; ");
  return sayOfRows(locale, "rowGoneEntered", { title, value });
}
