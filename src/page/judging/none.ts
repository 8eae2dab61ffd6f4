import type { Judge } from "./Judge.ts";

/** In a bundle for production nobody judges, unless the judge was given. */
export const standardJudge: Judge | undefined = undefined;
