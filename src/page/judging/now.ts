import { judgeForm, judgePage } from "../../markup/index.ts";
import type { Judge } from "./judge.ts";

/** The judge of pages, there from the start: in development, in tests, and wherever the bundle is not for production. */
export const judge: Judge | undefined = { judgeForm, judgePage };

export const loadJudge = (): Promise<Judge> => Promise.resolve({ judgeForm, judgePage });
