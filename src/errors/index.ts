export type { ErrorCode } from "./codes.ts";
export { IronwoodError, shown, unknownName, type ErrorFacts } from "./IronwoodError.ts";
export { nearestName } from "./nearestName.ts";
