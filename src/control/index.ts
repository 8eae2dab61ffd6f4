export { firstWrong, type PlacedControl, spinnerKey, type TextFacts, whatToShow } from "./decisions.ts";
export { pressSave, type SaveOutcome } from "./saving.ts";
export { listKey, matching, type Matches } from "./matching.ts";
export { attachControl, type Attached, type Control, type ControlState } from "./contract.ts";
export { HeadlessControl } from "./HeadlessControl.ts";
