import { judge } from "./index.ts";
import type { Judge } from "./Judge.ts";

/** Who judges a page where nobody was given: the judge is there from the start. */
export const standardJudge: Judge | undefined = judge;
