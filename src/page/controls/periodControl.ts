import type { FieldState } from "../../entry/index.ts";
import { notOfFormat, readPeriod } from "../../model/index.ts";
import type { ControlContext } from "./ControlContext.ts";
import { TextControl } from "./textControl.ts";

/** A month or a week where the browser has no control of its own for it, and shows a text field: it is typed, and read as people write it. */
export class PeriodControl extends TextControl {
  readonly #format: "month" | "week";

  constructor(field: FieldState, element: HTMLInputElement, format: "month" | "week", context: ControlContext) {
    super(field, element, context);
    this.#format = format;
    // Nothing else says how it is to be written.
    if (!element.hasAttribute("placeholder")) element.placeholder = String(notOfFormat(format).facts["example"]);
  }

  override enter(text: string, control: HTMLInputElement): void {
    const read = readPeriod(text, this.#format);
    const isRead = text.trim() === "" || read !== undefined;
    super.enter(read ?? text, control, isRead ? undefined : notOfFormat(this.#format));
  }
}

/** What an input is meant to be that the browser shows as a text field. */
export function missingPeriod(element: HTMLInputElement): "month" | "week" | undefined {
  const meant = element.getAttribute("type")?.toLowerCase();
  return element.type === "text" && (meant === "month" || meant === "week") ? meant : undefined;
}
