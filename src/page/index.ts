export { type AnyEntry, bindCommand, bindControl, bindForm, bindOutput, bindPage, type PageThings } from "./bind.ts";
export type { Binding, BindOptions } from "./binding.ts";
export type { OutputSource } from "./output.ts";
