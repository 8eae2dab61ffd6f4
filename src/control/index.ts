export {
  firstWrong,
  type PlacedControl,
  spinnerKey,
  stepped,
  type StepLimits,
  type TextFacts,
  whatToShow,
} from "./decisions.ts";
export { pressSave, type SaveOutcome } from "./saving.ts";
