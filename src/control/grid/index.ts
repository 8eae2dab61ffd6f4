export { type GridLayout, layoutFrom, moved, seenColumns, withHidden, withWidth } from "./columns.ts";
export { type GridAct, gridAct, type GridKey, type GridState, nextEdited } from "./keys.ts";
export { TallScroll } from "./TallScroll.ts";
