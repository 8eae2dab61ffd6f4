export { csvLine, CsvLines, LONGEST_ROW } from "./csvLines.ts";
export { csvColumns, toCells } from "./csvText.ts";
export { fieldsOf } from "./headings.ts";
export { type Loaded, type LoadOptions, loadRows } from "./loadRows.ts";
export { type Fault, type MemoryStore, memoryStore } from "./memoryStore.ts";
export { ndjsonLine } from "./ndjson.ts";
export { storedFields } from "../model/index.ts";
export { fromJson, type RowReading, toJson } from "./rows.ts";
export {
  type ColumnNames,
  type LineProblem,
  type ReadLine,
  requireColumns,
  type RowFormat,
  RowReader,
} from "./RowReader.ts";
export {
  type ChangeableStore,
  type Receipt,
  type Store,
  type StoreChange,
  type StoredRow,
  StoreError,
  type StoreErrorKind,
  type StoreNews,
  type VersionedRow,
  type WriteResult,
} from "./Store.ts";
export { textPieces, type TextSource } from "./textPieces.ts";
