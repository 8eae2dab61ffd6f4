import { requireArgument, requireOptions } from "../errors/index.ts";
import { type Command, command } from "../command/index.ts";
import { say, sayOfKeeping } from "../model/index.ts";
import { Keeping } from "./Keeping.ts";
import { Together } from "./Together.ts";
import type { Kept } from "./Kept.ts";

/**
 * A command that writes what is unsaved of a table that is kept, or of several that are kept together; where nothing is, it says so. What comes of it is said in the status line.
 *
 * @param options - `title`: what people call it; default: "Save", in the language of the table. `keyShortcuts`: keys that run it
 * @throws `wrongType` for what neither `keep()` nor `keepTogether()` has given
 * @example bindPage(document, { save: writeCommand(kept, { keyShortcuts: "Control+S" }) });
 */
export function writeCommand(
  kept: Pick<Kept, "unsavedCount" | "editingCount" | "said" | "place" | "write"> & {
    readonly table: { readonly locale: string };
  },
  options: { readonly title?: string | (() => string) | undefined; readonly keyShortcuts?: string | undefined } = {},
): Command {
  const isKept = kept instanceof Keeping || kept instanceof Together;
  requireArgument(isKept, "writeCommand", kept, "what keep() or keepTogether() has given");
  requireOptions("writeCommand", options, { title: "textOrFunction", keyShortcuts: "text" });
  const locale = (): string => kept.table.locale;
  return command({
    title: () => say(locale(), "save"),
    ...options,
    allowed: () => kept.unsavedCount > 0 || (kept.editingCount > 0 ? kept.said : sayOfKeeping(locale(), "keptNothing")),
    run: async ({ signal }) => {
      const { ok, said } = await kept.write({ signal });
      if (!ok) throw new Error(said);
      return said;
    },
  });
}
