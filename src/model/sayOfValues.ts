import { checkingEnglish } from "./english/checking.ts";
import { valuesEnglish } from "./english/values.ts";
import { sayer } from "./languages.ts";
import type { CheckingMessage, ValuesMessage } from "./messageNames.ts";

/** Says what is wrong with a value of any kind: what is said of text too, and what is said of others only. */
export const sayOfValues = /* @__PURE__ */ sayer<CheckingMessage | ValuesMessage>({
  ...checkingEnglish,
  ...valuesEnglish,
});
