import type { ElementFacts, FormFacts, NamedFacts, PageFacts } from "../../markup/index.ts";
import { placeOf } from "../dom.ts";
import { formName, memberOf } from "../memberOf.ts";
import { isInCopy } from "../rows/copies.ts";
import type { Survey } from "../survey.ts";

/**
 * An element as the plain facts that the judging of pages asks for. They are taken at once, since binding changes the
 * page, and the judge may come after it.
 */
export class DomFacts implements NamedFacts {
  readonly tag: string;
  readonly place: string;
  readonly options: readonly ElementFacts[];
  readonly #text: string;
  readonly #attributes: ReadonlyMap<string, string>;

  constructor(
    element: Element,
    readonly name: string,
  ) {
    this.tag = memberOf(element, "localName");
    this.place = placeOf(element);
    this.#attributes = new Map([...memberOf(element, "attributes")].map((each) => [each.name, each.value]));
    this.#text = this.tag === "option" ? element.textContent : "";
    this.options =
      this.tag === "select"
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

export function formFacts({ form, elements, names }: Pick<Survey, "form" | "elements" | "names">): FormFacts {
  const facts = new DomFacts(form, formName(form));
  const controls = elements.map((element, place) => new DomFacts(element, names[place]!));
  return {
    tag: "form",
    name: facts.name,
    place: facts.place,
    controls,
    attribute: (name) => facts.attribute(name),
    text: () => facts.text(),
  };
}

/** A template of rows as if it were a form of the model. */
export function templateFacts(
  container: Element,
  shown: readonly { readonly element: Element; readonly name: string }[],
): FormFacts {
  const facts = new DomFacts(container, container.id);
  const controls = shown.map(({ element, name }) => new DomFacts(element, name));
  return Object.assign(facts, { controls });
}

export function pageFacts(root: ParentNode, forms: readonly Survey[]): PageFacts {
  return {
    forms: forms.map(formFacts),
    outputs: [...root.querySelectorAll("[data-name]")]
      .filter((element) => element.closest("form") === null && !isInCopy(element))
      .map((element) => new DomFacts(element, element.getAttribute("data-name")!)),
    commands: [...root.querySelectorAll("button[command]")]
      .filter((button) => !isInCopy(button))
      .map((button) => new DomFacts(button, "")),
  };
}
