import { rowsEnglish } from "./english/rows.ts";
import { sayer } from "./languages.ts";
import type { RowsMessage } from "./messageNames.ts";

/** Says a message of the area that `english/rows.ts` has the words of. */
export const sayOfRows = /* @__PURE__ */ sayer<RowsMessage>(rowsEnglish);
