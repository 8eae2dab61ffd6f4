export { csvColumns, fromCells, toCells } from "./csvText.ts";
export { type Loaded, type LoadOptions, loadRows, type LineProblem, type TextSource } from "./loadRows.ts";
export { ndjsonLine, readNdjsonLine } from "./ndjson.ts";
export { storedFields } from "../model/index.ts";
export { fromJson, type RowReading, toJson } from "./rows.ts";
export { type Receipt, type Store, type StoredRow, StoreError, type StoreErrorKind } from "./Store.ts";
