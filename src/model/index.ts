export { english } from "./english.ts";
export { addLanguage, say } from "./languages.ts";
export { boolean, type BooleanOptions } from "./kinds/boolean.ts";
export type { ChoiceGiven, ChoiceValue } from "./kinds/choices.ts";
export { date, type DateOptions, dateTime, time } from "./kinds/dates.ts";
export { decimal, type DecimalOptions } from "./kinds/decimal.ts";
export type { AnyKind, Choice, CommonOptions, Finding, Kind, KindName, Reading } from "./kinds/kind.ts";
export { integer, number, type NumberOptions } from "./kinds/number.ts";
export { oneOf, type OneOfOptions } from "./kinds/oneOf.ts";
export { someOf, type SomeOfOptions } from "./kinds/someOf.ts";
export { text, type TextOptions } from "./kinds/text.ts";
export {
  type AnyModel,
  type DeclaredNames,
  type GivenOf,
  type KindOf,
  Model,
  model,
  type ModelOptions,
  type NamesOf,
  type RowOf,
  type ValuesOf,
} from "./Model.ts";
export { nameIn, pointerTo, type Problem, type ProblemCode, problemCodes, type Severity } from "./problem.ts";
export { BLANK, newReader, type ReadField } from "./reader.ts";
export { isEngines, reportOnce } from "./reported.ts";
export type { Rule, RuleOptions, Verdict } from "./rule.ts";
export type { Fields, FieldValue, Shown } from "./types.ts";
export { type Language, type MessageFacts, type MessageName, messageNames } from "./words.ts";
