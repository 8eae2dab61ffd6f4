/** Where a person is in a grid: the place of the row in the view, and the number of the column that is seen. */
export interface CellPlace {
  readonly row: number;
  readonly column: number;
}
