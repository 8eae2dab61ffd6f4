import type { History, UndoStep, Undone } from "../engine/index.ts";
import { requireArgument } from "../errors/index.ts";
import { type CheckingMessage, say } from "../model/index.ts";
import { Command } from "./Command.ts";
import { notices } from "./notices.ts";

/** What has a history and a language: an entry, or a table that was given one. */
export interface Undoing {
  readonly history: History | undefined;
  readonly locale: string;
}

/** What a step did, in words: its name, or what it changed. */
function inWords({ name, titles }: UndoStep, locale: string): string {
  if (name !== undefined) return name;
  const [first = "", second = ""] = titles;
  const listed = titles.length <= 2 ? titles : [first, second, "…"];
  return say(locale, "changeOf", {
    title: new Intl.ListFormat(locale, { type: titles.length <= 2 ? "conjunction" : "unit" }).format(listed),
  });
}

function outcome(done: Undone, said: CheckingMessage, locale: string): string {
  if (!done.ok) return "";
  const skipped = done.skipped.map((title) => say(locale, "notUndone", { title }));
  if (skipped.length === done.step.titles.length && skipped.length > 0) return skipped.join(" ");
  return [say(locale, said, { value: inWords(done.step, locale) }), ...skipped].join(" ");
}

/** Undoes or redoes as a person's press does, and tells the status line. @returns what it came to */
export function pressUndo(of: Undoing, which: "undo" | "redo"): Undone {
  notices.clear();
  const done = of.history?.[which]() ?? { ok: false };
  const { locale } = of;
  if (done.ok) notices.say(outcome(done, which === "undo" ? "undone" : "redone", locale));
  else notices.say(say(locale, which === "undo" ? "nothingToUndo" : "nothingToRedo"));
  return done;
}

function commandFor(of: Undoing, which: "undo" | "redo"): Command {
  const isRight = typeof of === "object" && (of as unknown) !== null && "history" in of;
  requireArgument(isRight, `${which}Command`, of, "an entry or a table");
  const step = (): UndoStep | undefined => of.history?.[which === "undo" ? "undoes" : "redoes"];
  return new Command({
    title: () => {
      const next = step();
      return say(of.locale, which, { value: next === undefined ? "" : inWords(next, of.locale) }).trim();
    },
    allowed: () => step() !== undefined || say(of.locale, which === "undo" ? "nothingToUndo" : "nothingToRedo"),
    run: () => outcome(of.history?.[which]() ?? { ok: false }, which === "undo" ? "undone" : "redone", of.locale),
  });
}

/** A command that takes the last change of an entry back; its caption says which. @example bindPage(document, { card, undo: undoCommand(card) }) */
export const undoCommand = (of: Undoing): Command => commandFor(of, "undo");

/** A command that brings again what was taken back. */
export const redoCommand = (of: Undoing): Command => commandFor(of, "redo");
