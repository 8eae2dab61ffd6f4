import { isNamed } from "./dom.ts";
import { isInCopy } from "./rows/copies.ts";

/** The forms of a page, or of a part of it. */
export function formsIn(root: ParentNode): HTMLFormElement[] {
  const inside = [...root.querySelectorAll("form")];
  return isNamed(root, "form") ? [root, ...inside] : inside;
}

/** Buttons whose command is one of the application's, not the platform's. */
export const commandButtons = (root: ParentNode): HTMLButtonElement[] =>
  [...root.querySelectorAll<HTMLButtonElement>('button[command^="--"]')].filter((button) => !isInCopy(button));
