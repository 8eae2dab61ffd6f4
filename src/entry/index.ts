export type { CalculatedField } from "./CalculatedField.ts";
export { CalculatedFieldState } from "./CalculatedFieldState.ts";
export type { AnyEntry, Entry } from "./Entry.ts";
export type { EntryFields } from "./EntryFields.ts";
export type { EntryOptions } from "./EntryOptions.ts";
export type { Entered } from "./Entered.ts";
export { type AnyFieldState, EntryCore } from "./EntryCore.ts";
export { EntryState } from "./EntryState.ts";
export type { AnyField } from "./AnyField.ts";
export type { Field, FieldDoing } from "./Field.ts";
export { FieldChange } from "./FieldChange.ts";
export { FieldState } from "./FieldState.ts";
export type { GroupFields } from "./GroupFields.ts";
export { editRow, newEntry } from "./newEntry.ts";
export { isSteps } from "./isSteps.ts";
export { loadAskingRules } from "./loadAskingRules.ts";
export type { OpenPart } from "./OpenParts.ts";
export type { SaveAnswer } from "./saveMessages.ts";
export type { FixedRow, SaveResult } from "./Saving.ts";
export {
  type StepOptions,
  type StepResult,
  Steps,
  steps,
  type StepState,
  type SummaryItem,
  type SummaryPart,
} from "./steps.ts";
export { UndoableEntered } from "./UndoableValue.ts";
