/** Plain facts about a page: from the document in a browser, or from the text of a file with lines and columns. */

/** Something in the page that may be bound. */
export interface ElementFacts {
  /** In lower case, as `input`. */
  readonly tag: string;
  /** Where it is, as a person finds it: `<input name="girth">`, with line and column where they are known. */
  readonly place: string;
  /** An attribute's value; `undefined` when the element does not have it. */
  attribute(name: string): string | undefined;
  /** The text inside it. */
  text(): string;
}

/** A control, an output, or an element with `data-name`. */
export interface NamedFacts extends ElementFacts {
  /** The full name, with the names of the fieldsets round it; blank when it has none. */
  readonly name: string;
  /** The options of a `select`. */
  readonly options: readonly ElementFacts[];
}

export interface FormFacts extends ElementFacts {
  readonly name: string;
  /** Its controls in the page's order, those tied to it by `form=` included. */
  readonly controls: readonly NamedFacts[];
}

export interface PageFacts {
  readonly forms: readonly FormFacts[];
  /** Elements with `data-name` that are in no form. */
  readonly outputs: readonly NamedFacts[];
  /** Buttons with a `command`. */
  readonly commands: readonly ElementFacts[];
}

/** Sorts of controls, as they suit a field. */
export type ControlSort =
  | "text"
  | "number"
  | "range"
  | "date"
  | "time"
  | "dateTime"
  | "month"
  | "color"
  | "file"
  | "checkBox"
  | "radio"
  | "toggle"
  | "select"
  | "selectMultiple"
  | "custom"
  | "output"
  | "button"
  | "hidden"
  | "other";

const inputSorts: Readonly<Record<string, ControlSort>> = {
  number: "number",
  range: "range",
  date: "date",
  time: "time",
  "datetime-local": "dateTime",
  month: "month",
  week: "month",
  color: "color",
  file: "file",
  checkbox: "checkBox",
  radio: "radio",
  submit: "button",
  reset: "button",
  button: "button",
  image: "button",
  hidden: "hidden",
};

/**
 * What a control is to a field, by its tag, its type and what else tells. An input type that HTML does not know is a text
 * field, as in HTML; a button with a name, that neither saves, reverts nor runs a command, is a toggle.
 */
export function sortBy(tag: string, type: string, multiple: boolean, toggle: boolean): ControlSort {
  switch (tag) {
    case "input":
      return inputSorts[type] ?? "text";
    case "textarea":
      return "text";
    case "select":
      return multiple ? "selectMultiple" : "select";
    case "button":
      return toggle ? "toggle" : "button";
    case "fieldset":
    case "object":
      return "other";
    default:
      return tag.includes("-") ? "custom" : "output";
  }
}

export const sortOf = (element: ElementFacts): ControlSort =>
  sortBy(
    element.tag,
    element.attribute("type")?.toLowerCase() ?? "text",
    element.attribute("multiple") !== undefined,
    element.attribute("type")?.toLowerCase() === "button" &&
      element.attribute("name") !== undefined &&
      element.attribute("command") === undefined,
  );
