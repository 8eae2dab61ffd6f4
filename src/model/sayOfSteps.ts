import { stepsEnglish } from "./english/steps.ts";
import { sayer } from "./languages.ts";
import type { StepsMessage } from "./messageNames.ts";

/** Says a message of the area that `english/steps.ts` has the words of. */
export const sayOfSteps = /* @__PURE__ */ sayer<StepsMessage>(stepsEnglish);
