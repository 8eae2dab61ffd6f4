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
  /** Buttons with a `command` that begins with two hyphens. */
  readonly commands: readonly ElementFacts[];
}

/** Kinds of controls, as they suit a field. */
export type ControlSort =
  | "text"
  | "number"
  | "date"
  | "time"
  | "dateTime"
  | "checkBox"
  | "radio"
  | "select"
  | "selectMultiple"
  | "output"
  | "button"
  | "hidden"
  | "other";

const inputSorts: Readonly<Record<string, ControlSort>> = {
  text: "text",
  search: "text",
  email: "text",
  url: "text",
  tel: "text",
  password: "text",
  number: "number",
  range: "number",
  date: "date",
  time: "time",
  "datetime-local": "dateTime",
  checkbox: "checkBox",
  radio: "radio",
  submit: "button",
  reset: "button",
  button: "button",
  image: "button",
  hidden: "hidden",
};

const tagSorts: Readonly<Record<string, ControlSort>> = {
  textarea: "text",
  button: "button",
  fieldset: "other",
  object: "other",
};

/** What a control is to a field. An input type that HTML does not know is a text field, as in HTML. */
export function sortOf(element: ElementFacts): ControlSort {
  if (element.tag === "input") {
    const type = element.attribute("type")?.toLowerCase() ?? "text";
    return inputSorts[type] ?? (["month", "week", "color", "file"].includes(type) ? "other" : "text");
  }
  if (element.tag === "select") return element.attribute("multiple") === undefined ? "select" : "selectMultiple";
  return tagSorts[element.tag] ?? "output";
}
