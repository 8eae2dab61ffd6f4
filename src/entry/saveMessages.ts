import { type Problem, say } from "../model/index.ts";

/** What a save function may say of rows that were taken, or refused with what is wrong with them. */
export type Verdict = { readonly ok: true } | { readonly ok: false; readonly problems: readonly Problem[] };

/** Where a row was put, and what the person should know besides, as a whole sentence. */
export interface Placed {
  readonly place: string;
  readonly notice?: string | undefined;
}

/**
 * What a save function may answer: a text for the status line, where the row was put, or what a table answers
 * (`save: (row) => stock.insert(row)`); what that refuses is shown at its fields, and nothing is saved.
 */
export type SaveAnswer = string | Placed | Verdict | undefined | void;

/** Why a save function refused a row; `undefined` where it did not. */
export function refusedBy(answer: SaveAnswer): readonly Problem[] | undefined {
  return typeof answer === "object" && "ok" in answer && !answer.ok ? answer.problems : undefined;
}

/** What the status line is told of a save. */
export function said(answer: SaveAnswer, title: string, locale: string): string {
  if (typeof answer === "string") return answer;
  if (typeof answer === "object" && "place" in answer) {
    const text = say(locale, "savedTo", { title, place: answer.place });
    return answer.notice === undefined ? text : `${text} ${answer.notice}`;
  }
  return say(locale, "saved", { title });
}

/** That a row could not be written, and why; to try again is said only where that may help. */
export function notSaved(reason: unknown, locale: string): Problem {
  const message = reason instanceof Error ? reason.message : String(reason);
  const { kind } = (reason ?? {}) as { readonly kind?: unknown };
  const mayHelp = kind !== "refused" && kind !== "full";
  const text = say(locale, mayHelp ? "notSavedNow" : "notSaved", {
    reason: /[.!?]$/.test(message) ? message : `${message}.`,
  });
  return { code: "notSaved", message: text, severity: "error", pointer: "" };
}
