/** What every place does with changes of its rows, wherever it keeps them. */
export { giveFields, givenAgain, type GivenValues, highestIn, type Writer } from "./given.ts";
export { type Judged, judgeChanges, keyedRows, type KeyedRow, keyTaken, type RowsThere } from "./judgeChanges.ts";
export { keyFromJson } from "./keyFromJson.ts";
export { notAppended } from "./notAppended.ts";
export { isRemembered } from "./remembered.ts";
