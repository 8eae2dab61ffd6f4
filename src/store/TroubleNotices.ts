import { notices } from "../command/index.ts";
import type { KeptState } from "./Kept.ts";

/** Tells people what keeps rows from being saved: each time something else, and not again what was told last. */
export class TroubleNotices {
  #told = "";

  /** Says how something stands where that is trouble. */
  tell({ state, said }: { readonly state: KeptState; readonly said: string }): void {
    const isTrouble = state === "refused" || state === "unreachable" || state === "conflict";
    const text = isTrouble ? said : "";
    if (isTrouble && text !== this.#told) notices.say(text, state === "conflict" ? "warning" : "error");
    this.#told = text;
  }

  /** Somebody was told otherwise. */
  heard(text: string): void {
    this.#told = text;
  }
}
