import type { Problem } from "../../model/index.ts";
import { StoreError } from "../Store.ts";

/** What came of a write that was not done. */
interface NotWritten {
  readonly ok: false;
  readonly refused?: readonly { readonly problems: readonly Problem[] }[];
}

/** What is told of a row that could not be put behind the others. @param result - what came of writing it, or why it can't be */
export function notAppended(place: string, result: NotWritten | string): StoreError {
  const reason = typeof result === "string" ? result : (result.refused?.[0]?.problems[0]?.message ?? "");
  return new StoreError("refused", `Nothing was put into ${place}. ${reason}`.trim());
}
