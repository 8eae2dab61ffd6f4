export {
  firstWrong,
  newsIn,
  nextNotice,
  type PlacedControl,
  type SaidText,
  spinnerKey,
  type TextFacts,
  undoKey,
  whatToShow,
} from "./decisions.ts";
export { mayLeave } from "./leaving.ts";
export { isError, pressSave, sayOutcome, type SaveOutcome } from "./saving.ts";
export { pressStep, sayStep, type StepCommands, stepCommands } from "./stepping.ts";
export { listKey, matching, type Matches } from "./matching.ts";
export { attachControl, type Attached, type Control, type ControlState } from "./contract.ts";
export { HeadlessControl } from "./HeadlessControl.ts";
export { boundIn, type BoundPart, listUnder } from "./registry.ts";
export * from "./grid/index.ts";
