/** Cells as spreadsheets have them on the clipboard: rows of texts. */
export type Block = readonly (readonly string[])[];
