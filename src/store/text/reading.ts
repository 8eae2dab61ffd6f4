/** What reads rows from text, apart so that a page that only writes does not load it. */
export { RowReader } from "./RowReader.ts";
export { textPieces } from "./textPieces.ts";
