import type { Judge } from "./judge.ts";

/** A bundle for production loads the judge of pages, and its words, when a page has something that may not agree. */
export const judge: Judge | undefined = undefined;

export const loadJudge = async (): Promise<Judge> => (await import("./now.ts")).loadJudge();
