export { english } from "./english/index.ts";
export { addLanguage, type LanguageWords, say, sayer } from "./languages.ts";
export { sayOfKeeping } from "./sayOfKeeping.ts";
export { sayOfRows } from "./sayOfRows.ts";
export { sayOfValues } from "./sayOfValues.ts";
export { sayOfSteps } from "./sayOfSteps.ts";
export { boolean, type BooleanOptions } from "./kinds/boolean.ts";
export { type AddOptions, ChoiceList, choiceList, type ChoiceListOptions } from "./ChoiceList.ts";
export { ChoiceSearch, choiceSearch, type FindChoices } from "./ChoiceSearch.ts";
export {
  type ChoiceGiven,
  type ChoiceValue,
  choiceAt,
  choiceOf,
  findChoice,
  folded,
  sameChoices,
} from "./kinds/choices.ts";
export { date, type DateOptions, dateTime, time } from "./kinds/dates.ts";
export { decimal, type DecimalOptions } from "./kinds/decimal.ts";
export { file, type FileOptions, type ChosenFile } from "./kinds/file.ts";
export { type Formerly, formerNames } from "./formerly.ts";
export { type Given, givenFields, givenTo, hasGivenKey, isForNow } from "./given.ts";
export { group, type GroupKind, type GroupOptions } from "./kinds/group.ts";
export { instant, type InstantOptions } from "./kinds/instant.ts";
export type {
  Added,
  AnyKind,
  Choice,
  ChoiceSource,
  CommonOptions,
  Title,
  Finding,
  Kind,
  KindName,
  Reach,
  Reading,
} from "./kinds/kind.ts";
export { list, type ListOptions } from "./kinds/list.ts";
export { integer, type IntegerOptions, number, type NumberOptions } from "./kinds/number.ts";
export { oneOf, type OneOfOptions } from "./kinds/oneOf.ts";
export { someOf, type SomeOfOptions } from "./kinds/someOf.ts";
export {
  harmlessSchemes,
  notOfFormat,
  readPeriod,
  text,
  type TextFormat,
  type TextOptions,
  type Tidying,
} from "./kinds/text.ts";
export {
  type AnyModel,
  type DeclaredNames,
  type DeclaredPathsOf,
  type FieldPathsOf,
  type GivenOf,
  type KeyOf,
  type KindOf,
  Model,
  model,
  type ModelOptions,
  type NamesOf,
  type ReadRowOf,
  type RowOf,
  type ValuesOf,
} from "./Model.ts";
export {
  checkCount,
  checkOptions,
  type CountLimits,
  nothingFound,
  optionsOf,
  readAs,
  type Sure,
} from "./kinds/kind.ts";
export { titleFrom } from "./names.ts";
export { flattened, outerName, putIn, rowWith, valueIn } from "./nesting.ts";
export {
  nameIn,
  pointerTo,
  pointsInto,
  type Problem,
  type ProblemCode,
  problemCodes,
  type Severity,
} from "./problem.ts";
export { yesOrNo } from "./yesOrNo.ts";
export { rowTitle } from "./rowTitle.ts";
export { messageNames } from "./messageNames.ts";
export { BLANK, newReader, type ReadField } from "./reader.ts";
export { isEngines, type Otherwise, reportOnce, runOverRow } from "./reported.ts";
export { kept } from "./kept.ts";
export { asks, nowAsks, type Rule, type RuleContext, type RuleOptions, type Verdict } from "./rule.ts";
export type { Fields, FieldValue, InProgress, Shown } from "./types.ts";
export type {
  CheckingMessage,
  ChoicesMessage,
  MessageName,
  RowsMessage,
  StepsMessage,
  ValuesMessage,
} from "./messageNames.ts";
export type { AreaWords, Language, MessageFacts } from "./words.ts";
export { missingAt, problemAt } from "./problemAt.ts";
export { plainKind } from "./plainKind.ts";
export { showValue, showWhole } from "./showValue.ts";
export { storedFields } from "./storedFields.ts";
export { localeFrom, timeZoneFrom } from "./localeOptions.ts";
