import type { AnyModel } from "../model/index.ts";
import type { View } from "../table/index.ts";
import type { TableEntry } from "./TableEntry.ts";
import type { TableEntryOptions } from "./TableEntryOptions.ts";

/** Options of an entry that follows a view's current row. */
export interface ViewEntryOptions<M> extends TableEntryOptions<M> {
  /**
   * What happens when another row becomes current while this one is changed: it is saved, and where it can't be it stays
   * (`save`, the default); the person is asked (`ask`); or it stays, and the status line says why (`stay`).
   */
  readonly onLeave?: "save" | "ask" | "stay" | undefined;
}

/** An entry over the current row of a view, whichever that is. */
export interface ViewEntry<M extends AnyModel = AnyModel> extends TableEntry<M> {
  /** The view whose current row it is over. */
  readonly view: View<M>;
}
