export type { AnyEntry } from "../entry/index.ts";
export {
  bindCommand,
  bindControl,
  bindForm,
  bindOutput,
  bindPage,
  bindRelevant,
  bindRows,
  type PageThings,
} from "./bind.ts";
export type { Binding, BindOptions } from "./binding.ts";
export type { OutputOptions, OutputSource } from "./output.ts";
export { adaptControl, type ControlAdapter, type Shown, type Taken } from "./controls/index.ts";
export { askFor, type AskForOptions } from "./dialog/askFor.ts";
