import { counted } from "./counted.ts";
import type { AreaWords } from "../words.ts";
import type { StepsMessage } from "../messageNames.ts";

/** English for forms in pages. */
export const stepsEnglish: AreaWords<StepsMessage> = {
  problemsHere: ({ count }) => `${counted(count, "entry here needs", "entries here need")} your attention first.`,
  warnedHere: ({ count }) => `Look at ${counted(count, "warning", "warnings")}. To go on all the same, press again.`,
  nothingChosen: () => "nothing chosen",
  stepOf: ({ count, limit, title }) => `Step ${count} of ${limit}: ${title}`,
  stepsLeft: ({ title }) => `First finish the step ${title}.`,
  stepDone: () => "done",
  stepWrong: () => "needs your attention",
  firstStep: () => "This is the first step.",
  lastStep: () => "This is the last step.",
};
