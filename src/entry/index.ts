export type { Conflict } from "./Conflict.ts";
export { CalculatedField } from "./CalculatedField.ts";
export {
  type AnyEntry,
  editRow,
  Entry,
  type EntryFields,
  type EntryOptions,
  newEntry,
  type SaveResult,
} from "./Entry.ts";
export type { SaveAnswer } from "./saying.ts";
export { type AnyField, EntryCore } from "./EntryCore.ts";
export { GroupFields } from "./GroupFields.ts";
export { Field } from "./Field.ts";
export { FieldChange } from "./FieldChange.ts";
export { HeldContent } from "./Held.ts";
export {
  type StepOptions,
  type StepResult,
  Steps,
  steps,
  type StepState,
  type SummaryItem,
  type SummaryPart,
} from "./steps.ts";
export type { Content } from "./content.ts";
