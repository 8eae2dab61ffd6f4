/** Rows as text: CSV, NDJSON and JSON, read and written piece by piece. */
export { csvLine, CsvLines, LONGEST_ROW } from "./csvLines.ts";
export type { Line } from "./lines.ts";
export { csvColumns, toCells } from "./csvText.ts";
export { fieldsOf } from "./headings.ts";
export { ndjsonLine } from "./ndjson.ts";
export {
  fromJson,
  jsonOf,
  notReadAsBefore,
  olderRow,
  type RowReading,
  toJson,
  valueFromJson,
  valueToJson,
} from "./rows.ts";
export {
  type ColumnNames,
  type LineProblem,
  type ReadLine,
  requireColumns,
  type RowFormat,
  RowReader,
} from "./RowReader.ts";
export { isTextSource, textPieces, type TextSource } from "./textPieces.ts";
