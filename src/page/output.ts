import { mirror, type Stoppable } from "../engine/index.ts";
import type { AnyField } from "../entry/index.ts";
import { showLines } from "./dom.ts";

/** What an output shows: a field, or an expression that is followed. */
export type OutputSource = AnyField | (() => unknown);

/**
 * Shows a value or an expression in an element, live. What the element holds in the page is the stand-in text for while
 * it is blank. `meter` and `progress` get the number, `data` and `time` the value beside the text.
 */
export function showOutput(element: Element, source: OutputSource): Stoppable {
  const standIn = element.textContent;
  let last = standIn;
  const show = (text: string): void => {
    if (text !== last) showLines(element, (last = text));
  };
  const showing = mirror(
    () => {
      const [value, text] =
        typeof source === "function"
          ? plainly(source())
          : [source.relevant ? source.value : undefined, shownText(source)];
      if (element.localName === "meter" || element.localName === "progress")
        showNumber(element as HTMLMeterElement, value);
      else show(text === "" ? standIn : text);
      if (element.localName === "data") (element as HTMLDataElement).value = value === undefined ? "" : String(value);
      if (element.localName === "time")
        (element as HTMLTimeElement).dateTime = value === undefined ? "" : String(value);
    },
    typeof source === "function" ? "an output" : source.name,
  );
  return {
    stop() {
      showing.stop();
      showLines(element, standIn);
    },
    [Symbol.dispose]() {
      this.stop();
    },
  };
}

function plainly(value: unknown): [value: unknown, text: string] {
  return [value ?? undefined, value === undefined || value === null ? "" : String(value)];
}

const shownText = (field: AnyField): string => (field.relevant ? field.display : "");

/** A meter without a value would look like one at its least, so it goes to indeterminate or zero as HTML has it. */
function showNumber(element: HTMLMeterElement | HTMLProgressElement, value: unknown): void {
  if (typeof value === "number") element.value = value;
  else element.removeAttribute("value");
}
