import { type DefaultTreeAdapterTypes as Tree, parse } from "parse5";
import type { ElementFacts, FormFacts, NamedFacts, PageFacts } from "../markup/index.ts";

type Element = Tree.Element;

/** An element of a file as the plain facts that the judging of pages asks for, with line and column. */
class FileFacts implements NamedFacts {
  constructor(
    readonly element: Element,
    readonly name = "",
  ) {}

  get tag(): string {
    return this.element.tagName;
  }

  get place(): string {
    const at = this.element.sourceCodeLocation;
    const attributes = this.element.attrs
      .filter(({ name }) => ["id", "name", "data-name", "type", "value", "command"].includes(name))
      .map(({ name, value }) => ` ${name}="${value.slice(0, 40)}"`);
    return `${at?.startLine ?? 1}:${at?.startCol ?? 1} <${this.tag}${attributes.join("")}>`;
  }

  attribute(name: string): string | undefined {
    return attributeOf(this.element, name);
  }

  text(): string {
    return textOf(this.element);
  }

  get options(): readonly ElementFacts[] {
    return this.tag === "select"
      ? [...descendants(this.element)].filter((each) => each.tagName === "option").map((each) => new FileFacts(each))
      : [];
  }
}

const attributeOf = (element: Element, name: string): string | undefined =>
  element.attrs.find((each) => each.name === name)?.value;

const isElement = (node: Tree.Node): node is Element => "tagName" in node;

/** All elements below a node in the order of the file; what is inside a template too. */
function* descendants(node: Tree.ParentNode | Tree.Template): Iterable<Element> {
  for (const child of "content" in node ? node.content.childNodes : node.childNodes)
    if (isElement(child)) {
      yield child;
      yield* descendants(child);
    }
}

function textOf(node: Tree.Node): string {
  if ("value" in node) return node.value;
  return "childNodes" in node ? node.childNodes.map(textOf).join("") : "";
}

const controlTags = new Set(["input", "select", "textarea", "button", "output", "fieldset", "object"]);

/** A control of HTML, or a custom element with a name. */
const isControl = (element: Element): boolean =>
  controlTags.has(element.tagName) || (element.tagName.includes("-") && attributeOf(element, "name") !== undefined);

function ancestors(element: Element): Element[] {
  const all: Element[] = [];
  for (let node = element.parentNode; node !== null && isElement(node); node = node.parentNode) all.push(node);
  return all;
}

/** The full name of a control: with the names of the fieldsets round it inside its form. */
function fullName(element: Element): string {
  const own = attributeOf(element, "name") ?? attributeOf(element, "data-name") ?? "";
  if (own === "") return "";
  const inside = ancestors(element);
  const end = inside.findIndex((each) => each.tagName === "form");
  const sets = (end === -1 ? inside : inside.slice(0, end)).filter(
    (each) => each.tagName === "fieldset" && attributeOf(each, "name") !== undefined,
  );
  return [...sets.reverse().map((each) => attributeOf(each, "name")!), own].join(".");
}

/** Reads a page's text as a browser would. */
export function parsePage(html: string): PageFacts {
  const document = parse(html, { sourceCodeLocationInfo: true });
  const elements = [...descendants(document)];
  const inTemplate = new Set(
    elements.filter((each) => each.tagName === "template").flatMap((each) => [...descendants(each)]),
  );
  const bound = elements.filter((each) => !inTemplate.has(each));
  const forms = bound.filter((each) => each.tagName === "form").map((form) => formFacts(form, bound));
  const outside = (each: Element): boolean => !ancestors(each).some((outer) => outer.tagName === "form");
  return {
    forms,
    outputs: bound
      .filter((each) => attributeOf(each, "data-name") !== undefined && outside(each))
      .map((each) => new FileFacts(each, attributeOf(each, "data-name"))),
    commands: bound
      .filter((each) => each.tagName === "button" && attributeOf(each, "command")?.startsWith("--") === true)
      .map((each) => new FileFacts(each)),
  };
}

function formFacts(form: Element, all: readonly Element[]): FormFacts {
  const id = attributeOf(form, "id");
  const belongs = (each: Element): boolean => {
    const said = attributeOf(each, "form");
    return said === undefined ? ancestors(each).find((outer) => outer.tagName === "form") === form : said === id;
  };
  const controls = all.filter(
    (each) => (isControl(each) || attributeOf(each, "data-name") !== undefined) && belongs(each),
  );
  const facts = new FileFacts(form, attributeOf(form, "name") ?? "");
  return {
    tag: "form",
    name: facts.name,
    place: facts.place,
    controls: controls.map((each) => new FileFacts(each, fullName(each))),
    attribute: (name) => facts.attribute(name),
    text: () => facts.text(),
  };
}
