export { type Condition, Conditions, type ConditionPart } from "./Conditions.ts";
export { RowChecker } from "./RowChecker.ts";
export { rows, type RowsOptions } from "./rowsKind.ts";
export { ownProblems } from "./ownProblems.ts";
export { asForRule, workOut } from "./reading.ts";
export { firstPlaceOf, judged, problemOf, problemsFrom } from "./rules.ts";
