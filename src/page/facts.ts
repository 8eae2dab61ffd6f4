import type { ElementFacts, FormFacts, NamedFacts, PageFacts } from "../markup/index.ts";
import { fullName, placeOf } from "./dom.ts";

/**
 * An element as the plain facts that the judging of pages asks for. They are taken at once, since binding changes the
 * page, and the judge may come after it.
 */
class DomFacts implements NamedFacts {
  readonly tag: string;
  readonly place: string;
  readonly options: readonly ElementFacts[];
  readonly #text: string;
  readonly #attributes: ReadonlyMap<string, string>;

  constructor(
    element: Element,
    readonly name: string,
  ) {
    this.tag = element.localName;
    this.place = placeOf(element);
    this.#attributes = new Map([...element.attributes].map((each) => [each.name, each.value]));
    this.#text = element.localName === "option" ? element.textContent : "";
    this.options =
      element.localName === "select"
        ? [...(element as HTMLSelectElement).options].map((option) => new DomFacts(option, ""))
        : [];
  }

  attribute(name: string): string | undefined {
    return this.#attributes.get(name);
  }

  text(): string {
    return this.#text;
  }
}

const hasNestedNames = (form: Element): boolean => form.querySelector("fieldset[name]") !== null;

/** Everything in a form that could be bound: its controls, and what has `data-name` inside it. */
export function elementsOf(form: HTMLFormElement): Element[] {
  const named = form.querySelectorAll("[data-name]");
  if (named.length === 0) return [...form.elements];
  const controls = new Set<Element>(form.elements);
  for (const element of named) controls.add(element);
  return [...controls];
}

/** An element with its full name. */
export type NamedElement = readonly [element: Element, name: string];

/** Each element with its full name. */
export function namedElements(form: HTMLFormElement): NamedElement[] {
  const nested = hasNestedNames(form);
  return elementsOf(form).map((element) => [element, fullName(element, form, nested)]);
}

export function formFacts(form: HTMLFormElement, named: readonly NamedElement[]): FormFacts {
  const facts = new DomFacts(form, form.getAttribute("name") ?? "");
  const controls = named.map(([element, name]) => new DomFacts(element, name));
  return {
    tag: "form",
    name: facts.name,
    place: facts.place,
    controls,
    attribute: (name) => facts.attribute(name),
    text: () => facts.text(),
  };
}

export function pageFacts(root: ParentNode, forms: readonly (readonly [HTMLFormElement, NamedElement[]])[]): PageFacts {
  return {
    forms: forms.map(([form, named]) => formFacts(form, named)),
    outputs: [...root.querySelectorAll("[data-name]")]
      .filter((element) => element.closest("form") === null)
      .map((element) => new DomFacts(element, element.getAttribute("data-name")!)),
    commands: commandButtons(root).map((button) => new DomFacts(button, "")),
  };
}

export function formsIn(root: ParentNode): HTMLFormElement[] {
  const inside = [...root.querySelectorAll("form")];
  return root instanceof HTMLFormElement ? [root, ...inside] : inside;
}

/** Buttons whose command is one of the application's, not the platform's. */
export const commandButtons = (root: ParentNode): HTMLButtonElement[] => [
  ...root.querySelectorAll<HTMLButtonElement>('button[command^="--"]'),
];
