export { commandAttribute, commandName } from "./commandName.ts";
export {
  type ControlSort,
  type ElementFacts,
  type FormFacts,
  type NamedFacts,
  type PageFacts,
  sortOf,
} from "./facts.ts";
export { judgeForm } from "./judgeForm.ts";
export { type BoundThings, judgePage } from "./judgePage.ts";
export type { Verdict } from "./verdict.ts";
