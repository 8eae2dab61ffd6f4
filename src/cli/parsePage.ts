import { type DefaultTreeAdapterTypes as Tree, parse } from "parse5";
import { getOrMake } from "../engine/index.ts";
import { type ElementFacts, type FormFacts, type NamedFacts, type PageFacts, scopedName } from "../markup/index.ts";

type Element = Tree.Element;

/** The attributes by which a person finds an element, in the order in which the page's own reports have them. */
const telling = ["id", "name", "data-name", "type", "value", "command"];

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
    const attributes = telling.flatMap((name) => {
      const value = this.attribute(name);
      return value === undefined ? [] : [` ${name}="${value.slice(0, 40)}"`];
    });
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

type Parent = Tree.ParentNode | Tree.Template;

const childrenOf = (node: Parent): readonly Tree.ChildNode[] =>
  "content" in node ? node.content.childNodes : node.childNodes;

/** All elements below a node in the order of the file, what is inside a template too; of any depth. */
function* descendants(node: Parent): Iterable<Element> {
  const open: Tree.ChildNode[] = childrenOf(node).toReversed();
  for (let next = open.pop(); next !== undefined; next = open.pop()) {
    if (!isElement(next)) continue;
    yield next;
    for (const child of childrenOf(next).toReversed()) open.push(child);
  }
}

function textOf(element: Element): string {
  let text = "";
  const open: Tree.Node[] = [element];
  for (let next = open.pop(); next !== undefined; next = open.pop())
    if ("value" in next) text += next.value;
    else if ("childNodes" in next) open.push(...next.childNodes.toReversed());
  return text;
}

/** Where an element stands: found for all of them in one walk, so that a page of any depth takes no longer than it is long. */
interface Surroundings {
  readonly form: Element | undefined;
  /** The names of the fieldsets inside that form. */
  readonly sets: readonly string[];
  readonly inTemplate: boolean;
}

function surroundingsIn(document: Tree.Document): Map<Element, Surroundings> {
  const all = new Map<Element, Surroundings>();
  const open: { node: Parent; of: Surroundings }[] = [
    { node: document, of: { form: undefined, sets: [], inTemplate: false } },
  ];
  for (let next = open.pop(); next !== undefined; next = open.pop()) {
    const { of } = next;
    for (const child of childrenOf(next.node)) {
      if (!isElement(child)) continue;
      all.set(child, of);
      open.push({ node: child, of: insideOf(child, of) });
    }
  }
  return all;
}

function insideOf(element: Element, of: Surroundings): Surroundings {
  if (element.tagName === "form") return { ...of, form: element, sets: [] };
  if (element.tagName === "template") return { ...of, inTemplate: true };
  const name = element.tagName === "fieldset" ? attributeOf(element, "name") : undefined;
  return name === undefined || name === "" ? of : { ...of, sets: [...of.sets, name] };
}

const controlTags = new Set(["input", "select", "textarea", "button", "output", "fieldset", "object"]);

/** A control of HTML, or a custom element with a name. */
const isControl = (element: Element): boolean =>
  controlTags.has(element.tagName) || (element.tagName.includes("-") && attributeOf(element, "name") !== undefined);

/** The full name of a control: with the names of the fieldsets round it inside its form. */
function fullName(element: Element, { sets }: Surroundings): string {
  return scopedName(attributeOf(element, "name") ?? attributeOf(element, "data-name") ?? "", sets);
}

/** Reads a page's text as a browser would. */
export function parsePage(html: string): PageFacts {
  const document = parse(html, { sourceCodeLocationInfo: true });
  const around = surroundingsIn(document);
  const bound = [...descendants(document)].filter((each) => !around.get(each)!.inTemplate);
  const forms = bound.filter((each) => each.tagName === "form");
  const controls = controlsByForm(forms, bound, around);
  return {
    forms: forms.map((form) => formFacts(form, controls.get(form) ?? [], around)),
    outputs: bound
      .filter((each) => attributeOf(each, "data-name") !== undefined && around.get(each)!.form === undefined)
      .map((each) => new FileFacts(each, attributeOf(each, "data-name"))),
    commands: bound
      .filter((each) => each.tagName === "button" && attributeOf(each, "command") !== undefined)
      .map((each) => new FileFacts(each)),
  };
}

/** Which controls belong to which form: to that in which they stand, or to that whose id their `form` has. */
function controlsByForm(
  forms: readonly Element[],
  all: readonly Element[],
  around: ReadonlyMap<Element, Surroundings>,
): Map<Element, Element[]> {
  const byId = new Map(forms.toReversed().map((form) => [attributeOf(form, "id"), form]));
  const controls = new Map<Element, Element[]>();
  for (const each of all) {
    if (!isControl(each) && attributeOf(each, "data-name") === undefined) continue;
    // Only a control is tied to a form elsewhere.
    const said = isControl(each) ? attributeOf(each, "form") : undefined;
    const form = said === undefined ? around.get(each)!.form : byId.get(said);
    if (form !== undefined) getOrMake(controls, form, () => []).push(each);
  }
  return controls;
}

function formFacts(form: Element, controls: readonly Element[], around: ReadonlyMap<Element, Surroundings>): FormFacts {
  const facts = new FileFacts(form, attributeOf(form, "name") ?? "");
  return {
    tag: "form",
    name: facts.name,
    place: facts.place,
    controls: controls.map((each) => new FileFacts(each, fullName(each, around.get(each)!))),
    attribute: (name) => facts.attribute(name),
    text: () => facts.text(),
  };
}
