import { keepingEnglish } from "./english/keeping.ts";
import { sayer } from "./languages.ts";
import type { KeepingMessage } from "./messageNames.ts";

/** Says a message of the area that `english/keeping.ts` has the words of. */
export const sayOfKeeping = /* @__PURE__ */ sayer<KeepingMessage>(keepingEnglish);
