import { internal, mirror, type Stoppable } from "../engine/index.ts";
import type { AnyField, AnyFieldState } from "../entry/index.ts";
import { type Reach, say } from "../model/index.ts";
import { showLines, toggleAttribute } from "./dom.ts";
import { FoundElement } from "./found.ts";
import { stoppable } from "./stoppable.ts";

/** What an output shows: a field, or an expression that is followed. */
export type OutputSource = AnyField | (() => unknown);

/** Where an output is shown, when not as the text of its element. */
export interface OutputOptions {
  /** An attribute that shows it instead, as `title` or `aria-label`; while it is blank, as the page has it. */
  readonly attribute?: string | undefined;
  /**
   * Of an attribute with an address, as `href` or `src`: the schemes that may stand there. An address of another scheme, as
   * `javascript:…`, counts as blank. Default: `http`, `https`, `mailto`, `tel` and the page's own.
   */
  readonly schemes?: readonly string[] | undefined;
}

/**
 * Shows a value or an expression in an element, live. What the element holds in the page is the stand-in text for while
 * it is blank. `meter` and `progress` get the number, `data` and `time` the value beside the text. An answer that is out
 * of date says so, and has `data-out-of-date` for styling.
 */
export function showOutput(
  element: Element,
  source: OutputSource,
  { attribute }: OutputOptions = {},
  isAllowed?: (text: string) => boolean,
): Stoppable {
  const found = new FoundElement(element, attribute === undefined);
  const standIn = attribute === undefined ? element.textContent : element.getAttribute(attribute);
  const put = (text: string | null): void => {
    if (attribute !== undefined) toggleAttribute(element, attribute, text ?? undefined);
    else showLines(element, text ?? "");
  };
  let last = standIn;
  let marked = false;
  const tag = attribute === undefined ? element.localName : "";
  const facts: Facts = { value: undefined, text: "", outOfDate: false };
  const showing = mirror(
    () => {
      if (typeof source === "function") lookAt(facts, source());
      else lookAtField(facts, source[internal]);
      const { value, text, outOfDate } = facts;
      if (outOfDate !== marked) toggleAttribute(element, "data-out-of-date", outOfDate ? "" : undefined);
      marked = outOfDate;
      if (tag === "meter" || tag === "progress") return showNumber(element as HTMLMeterElement, source, value);
      const wanted = text === "" || isAllowed?.(text) === false ? standIn : text;
      if (wanted !== last) put(wanted);
      last = wanted;
      if (tag === "data") (element as HTMLDataElement).value = value === undefined ? "" : String(value);
      if (tag === "time") (element as HTMLTimeElement).dateTime = value === undefined ? "" : String(value);
    },
    typeof source === "function" ? "an output" : source.name,
  );
  return stoppable(() => {
    showing.stop();
    if (attribute !== undefined) put(standIn);
    found.restore();
  });
}

/** What an output shows. Each output has one such object and fills it again for each change. */
interface Facts {
  value: unknown;
  text: string;
  outOfDate: boolean;
}

function lookAtField(facts: Facts, field: AnyFieldState): void {
  // A text that can't be read has no value: only its control shows it.
  const known = field.relevant && !field.unreadable;
  const value = known ? field.value : undefined;
  facts.value = value;
  facts.text = known ? field.displayOf(value) : "";
  facts.outOfDate = known && field.outOfDate;
  if (facts.outOfDate && facts.text !== "") facts.text = say(field.locale, "outOfDate", { value: facts.text });
}

function lookAt(facts: Facts, value: unknown): void {
  facts.value = value ?? undefined;
  facts.text = value === undefined || value === null ? "" : String(value);
}

/** A meter without a value would look like one at its least, so it goes to indeterminate or zero as HTML has it. */
function showNumber(element: HTMLMeterElement | HTMLProgressElement, source: OutputSource, value: unknown): void {
  if (typeof source !== "function") limit(element, source.kind.reach);
  if (typeof value === "number") element.value = value;
  else element.removeAttribute("value");
}

/** The model's limits, where the page gives none. */
function limit(element: HTMLMeterElement | HTMLProgressElement, { least, greatest }: Reach<unknown> = {}): void {
  if (typeof least === "number" && "min" in element && !element.hasAttribute("min")) element.min = least;
  if (typeof greatest === "number" && !element.hasAttribute("max")) element.max = greatest;
}
