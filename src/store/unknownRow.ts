import { IronwoodError, shown } from "../errors/index.ts";
import type { AnyModel } from "../model/index.ts";
import type { Unsaved } from "./Unsaved.ts";

/** That no row that differs has a key that was asked for. */
export function unknownRow<M extends AnyModel>(
  where: string,
  unsaved: Unsaved<M>,
  key: unknown,
  what: string,
): IronwoodError {
  const keys = unsaved.rows().map((row) => shown(row.key));
  return new IronwoodError("unknownKey", `There is no row ${what} with the key ${shown(key)}`, {
    where,
    expected: keys.length === 0 ? "nothing: no row is unsaved" : `one of ${keys.slice(0, 5).join(", ")}`,
  });
}
