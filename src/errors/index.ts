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
  requireKind,
  requireModel,
  requireNames,
  requireOptions,
  requirePage,
  requireRows,
  requireTable,
  requireView,
} from "#options";
export type { OptionType, OptionTypes } from "./options/OptionTypes.ts";
