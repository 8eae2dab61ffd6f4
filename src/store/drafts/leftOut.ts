import { sayOfKeeping } from "../../model/index.ts";
import type { NotTaken } from "./Draft.ts";

/** What of a draft its entry can't hold any more. */
export interface LeftOut {
  /** The name of the field. */
  readonly name: string;
  readonly title: string;
  /** What was in it, as it was typed. */
  readonly value: string;
  readonly reason: "noField" | "otherValue" | "file" | "rowChanged";
}

const words = {
  noField: "draftNoField",
  otherValue: "draftOtherValue",
  file: "draftFile",
  rowChanged: "draftOtherRow",
} as const;

/** What is left out of a draft, for the person. */
export const inWords = (locale: string, leftOut: readonly LeftOut[]): NotTaken[] =>
  leftOut.map(({ name, title, value, reason }) => ({
    name,
    message: sayOfKeeping(locale, "draftLeftOut", {
      reason: sayOfKeeping(locale, words[reason], { title, value }),
    }),
  }));
