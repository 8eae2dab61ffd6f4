export type { ErrorCode } from "./codes.ts";
export { IronwoodError, shown, unknownName, type ErrorFacts } from "./IronwoodError.ts";
export { nearestName } from "./nearestName.ts";
export { suggestion } from "#nearest";
export {
  requireArgument,
  requireElement,
  requireEntry,
  requireFields,
  requireFormerNames,
  requireFunctions,
  requireGiven,
  requireKind,
  requireKindOptions,
  requireModel,
  requireNames,
  requireOptions,
  requireOptionsOf,
  requirePage,
  requireRange,
  requireRows,
  requireTable,
  requireValues,
  requireView,
} from "#options";
export type { OptionName } from "./options/checkedKinds.ts";
export type { OptionType, OptionTypes } from "./options/OptionTypes.ts";
