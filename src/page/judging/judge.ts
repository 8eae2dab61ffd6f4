import type { judgeForm, judgePage } from "../../markup/index.ts";

/** What finds out whether a page agrees with what it is bound to, and says so in words. */
export interface Judge {
  readonly judgeForm: typeof judgeForm;
  readonly judgePage: typeof judgePage;
}
