import { choicesEnglish } from "./english/choices.ts";
import { sayer } from "./languages.ts";
import type { ChoicesMessage } from "./messageNames.ts";

/** Says a message of the area that `english/choices.ts` has the words of. */
export const sayOfChoices = /* @__PURE__ */ sayer<ChoicesMessage>(choicesEnglish);
