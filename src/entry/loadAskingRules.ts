import type { AskingRule } from "./AskingRule.ts";

/** What rules that ask elsewhere are made of, once it is loaded: most pages have none, so it is loaded when the first is met. */
export let LoadedRule: typeof AskingRule | undefined;

let loading: Promise<void> | undefined;

/** @returns when rules that ask can be made; what can't be loaded is tried again by the next who waits for it */
export function loadAskingRules(): Promise<void> {
  loading ??= import("./AskingRule.ts").then(
    (loaded) => {
      LoadedRule = loaded.AskingRule;
    },
    (reason: unknown) => {
      loading = undefined;
      throw reason;
    },
  );
  return loading;
}
