import { internal } from "../engine/index.ts";
import { requireArgument, requireEntry } from "../errors/index.ts";
import { type AnyEntry, FieldState } from "../entry/index.ts";
import { type AnyModel, pointsInto } from "../model/index.ts";
import { type Terminal, TerminalControl } from "./TerminalControl.ts";

/**
 * Asks for the fields of an entry in a terminal, one after the other, and saves it. What is not relevant, read-only or
 * calculated is not asked for; when something is wrong in the end, it is told, and asked for again.
 *
 * @returns whether it was saved; it is not when there are no more lines
 */
export async function fillEntry(entry: AnyEntry, terminal: Terminal): Promise<boolean> {
  requireEntry("fillEntry", entry);
  requireArgument(
    typeof (terminal as Partial<Terminal> | undefined)?.write === "function",
    "fillEntry",
    terminal,
    "a terminal that can ask and write",
  );
  const all = (entry.model as AnyModel).names;
  let names = all;
  for (;;) {
    for (const name of names) if (!(await askFor(entry, name, terminal))) return false;
    const result = await entry.save();
    if (result.ok) {
      terminal.write(result.said);
      return true;
    }
    for (const { pointer, message } of result.problems) terminal.write(`  ! ${pointer}: ${message}`);
    // What is wrong at no field, as that there is nowhere to save it, is not asked for again.
    if (result.problems.some(({ code }) => code === "notSaved" || code === "notAllowed")) return false;
    names = all.filter((name) =>
      result.problems.some(({ pointer }) => pointsInto(pointer, entry[internal].core.field(name).pointer)),
    );
    if (names.length === 0) return false;
  }
}

async function askFor(entry: AnyEntry, name: string, terminal: Terminal): Promise<boolean> {
  const field = entry[internal].core.field(name);
  if (!(field instanceof FieldState) || !field.relevant || field.readOnly) return true;
  const control = new TerminalControl(field, terminal);
  try {
    return await control.ask();
  } finally {
    control.stop();
  }
}
