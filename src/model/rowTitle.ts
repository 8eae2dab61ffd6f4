import type { AnyModel } from "./Model.ts";

/**
 * What a row is called: by its key, and with the model's title where that says nothing by itself, as a number does and a key that
 * was made for it.
 */
export function rowTitle({ title = "", parts }: AnyModel, key: readonly unknown[]): string {
  const words = key.map(String).join(" ");
  const bare = parts.key.length === 0 || key.every((part) => typeof part === "number");
  return bare ? `${title} ${words}`.trim() : words;
}
