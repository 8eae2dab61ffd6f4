import type { ElementFacts, FormFacts, NamedFacts, PageFacts } from "../markup/index.ts";
import { fullName, placeOf } from "./dom.ts";

/** A document's elements as the plain facts that the judging of pages asks for; nothing is read before it is asked. */
class DomFacts implements NamedFacts {
  readonly tag: string;
  #attributes: readonly string[] | undefined;

  constructor(
    readonly element: Element,
    readonly name: string,
  ) {
    this.tag = element.localName;
  }

  get place(): string {
    return placeOf(this.element);
  }

  attribute(name: string): string | undefined {
    // Most attributes that are asked for are not there, and each question to the platform costs.
    this.#attributes ??= this.element.getAttributeNames();
    return this.#attributes.includes(name) ? this.element.getAttribute(name)! : undefined;
  }

  text(): string {
    return this.element.textContent;
  }

  get options(): readonly ElementFacts[] {
    if (this.element.localName !== "select") return [];
    return [...(this.element as HTMLSelectElement).options].map((option) => new DomFacts(option, ""));
  }
}

const hasNestedNames = (form: Element): boolean => form.querySelector("fieldset[name]") !== null;

/** Everything in a form that could be bound: its controls, and what has `data-name` inside it. */
export function elementsOf(form: HTMLFormElement): Element[] {
  const named = [...form.querySelectorAll("[data-name]")];
  const controls = [...form.elements];
  return named.length === 0 ? controls : [...controls, ...named.filter((element) => !controls.includes(element))];
}

/** An element with its full name. */
export type NamedElement = readonly [element: Element, name: string];

/** Each element with its full name. */
export function namedElements(form: HTMLFormElement): NamedElement[] {
  const nested = hasNestedNames(form);
  return elementsOf(form).map((element) => [element, fullName(element, form, nested)]);
}

export function formFacts(form: HTMLFormElement, named: readonly NamedElement[] = namedElements(form)): FormFacts {
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

export function pageFacts(root: ParentNode): PageFacts {
  return {
    forms: formsIn(root).map((form) => formFacts(form)),
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
