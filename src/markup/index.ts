export { commandAttribute, commandName, stepCommand, stepCommandNames } from "./commandName.ts";
export {
  type ControlSort,
  type ElementFacts,
  type FormFacts,
  type NamedFacts,
  type PageFacts,
  sortBy,
  sortOf,
} from "./facts.ts";
export { scopedName } from "./scopedName.ts";
export { suits } from "./suiting.ts";
export { judgeForm } from "./judgeForm.ts";
export { type BoundThings, judgePage } from "./judgePage.ts";
export type { Verdict } from "./verdict.ts";
