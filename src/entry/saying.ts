import { type Problem, say } from "../model/index.ts";

/** What a save function may answer: a text for the status line, or where the row was put. */
export type SaveAnswer = string | { readonly place: string } | undefined | void;

/** What the status line is told of a save. */
export function said(answer: SaveAnswer, title: string, locale: string): string {
  if (typeof answer === "string") return answer;
  if (typeof answer === "object") return say(locale, "savedTo", { title, place: answer.place });
  return say(locale, "saved", { title });
}

/** That a row could not be written, and why. */
export function notSaved(reason: unknown, locale: string): Problem {
  const message = reason instanceof Error ? reason.message : String(reason);
  const text = say(locale, "notSaved", { reason: /[.!?]$/.test(message) ? message : `${message}.` });
  return { code: "notSaved", message: text, severity: "error", pointer: "" };
}
