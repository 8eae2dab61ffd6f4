import type { Language } from "../words.ts";
import { checkingEnglish } from "./checking.ts";
import { choicesEnglish } from "./choices.ts";
import { keepingEnglish } from "./keeping.ts";
import { rowsEnglish } from "./rows.ts";
import { stepsEnglish } from "./steps.ts";
import { valuesEnglish } from "./values.ts";

/** All of English. What a page says is by area, so that a page without rows has no words for them. */
export const english: Language = {
  tag: "en",
  messages: {
    ...checkingEnglish,
    ...valuesEnglish,
    ...rowsEnglish,
    ...stepsEnglish,
    ...choicesEnglish,
    ...keepingEnglish,
  },
};
