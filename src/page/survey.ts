import type { AnyModel } from "../model/index.ts";
import { adaptedTags } from "./controls/index.ts";
import { fullName } from "./dom.ts";
import { memberOf } from "./memberOf.ts";
import { areCopies, isInCopy } from "./rows/copies.ts";

/** Attributes of a control that say what the model says too, or that make it more than a text field. */
const attributesSaid = [
  "type",
  "min",
  "max",
  "minlength",
  "maxlength",
  "pattern",
  "required",
  "value",
  "checked",
  "list",
  "role",
];

/** Text fields with none of these attributes. */
const plainInputs = `input:not(${attributesSaid.map((name) => `[${name}]`).join()})`;

/** What a form has beside its controls. */
const rareParts = "[data-name],fieldset[name],[role=status],[role=alert]";

/** What a form holds, read once: judging and binding look at the same. */
export interface Survey {
  readonly form: HTMLFormElement;
  /** Its controls in the page's order, those tied to it by `form=` included; then what has `data-name` inside it. */
  readonly elements: readonly Element[];
  /** The full name of each, with the names of the fieldsets round it. */
  readonly names: readonly string[];
  /** Those that are plain fields for text; `undefined` when all are. */
  readonly plain: ReadonlySet<Element> | undefined;
  /** Whether all are plain, and have the names of the model's fields one after the other. */
  readonly exact: boolean;
  /** What shows notices inside it. */
  readonly statuses: readonly HTMLElement[];
  /** Where its problems are summed up: inside it, or anywhere on a page that has one form. */
  readonly alert: HTMLElement | undefined;
}

/**
 * Walks through a form once: with 10,000 controls, each further question to the platform about each of them would show.
 *
 * @param model - what the form is bound to, where that is known
 */
export function surveyed(form: HTMLFormElement, model?: AnyModel): Survey {
  const plain = memberOf(form, "querySelectorAll")(plainInputs);
  const tags = adaptedTags();
  const { rare, nested, alert } = rareIn(form, tags);
  const statuses = rare.filter((element) => element.getAttribute("role") === "status");
  const named = rare.filter((element) => element.hasAttribute("data-name") || (tags !== "" && element.matches(tags)));
  // The usual large form: the two lists are the same, and the first is faster to walk.
  const all = !areCopies() && plain.length === memberOf(form, "length") && named.length === 0;
  const elements = all
    ? listed(plain)
    : [...new Set<Element>([...memberOf(form, "elements"), ...named])].filter((element) => !isInCopy(element));
  const names = nested ? elements.map((element) => fullName(element, true)) : namesOf(elements, model?.names ?? []);
  const asModel =
    all && !nested && names.length === model?.names.length && names.every((name, at) => name === model.names[at]);
  // Not all elements of component libraries are known to the platform as controls of a form. What it does not know is judged too.
  const withName = memberOf(form, "querySelectorAll")("[name]");
  if (model !== undefined && !(asModel && withName.length === elements.length)) {
    const known = new Set(elements);
    for (const element of withName)
      if (
        element.localName.includes("-") &&
        !known.has(element) &&
        element.closest("form") === form &&
        !isInCopy(element) &&
        !isOfItsParts(element, elements, names, fullName(element, nested))
      ) {
        elements.push(element);
        names.push(fullName(element, nested));
      }
  }
  const known = elements.length === plain.length;
  return {
    form,
    elements,
    names,
    plain: all && known ? undefined : new Set(plain),
    exact: asModel && known,
    statuses,
    alert,
  };
}

/** By number: a spread asks the list for an iterator, which costs twice as much. */
function listed(nodes: NodeListOf<Element>): Element[] {
  const elements: Element[] = [];
  for (let place = 0, { length } = nodes; place < length; place++) elements.push(nodes[place]!);
  return elements;
}

/**
 * What a form has beside its controls, and where its problems are summed up. It is one question, as each is a walk through the page;
 * and it is asked before any value is written: the platform finds things more slowly in a tree of fresh values.
 */
function rareIn(
  form: HTMLFormElement,
  tags: string,
): { readonly rare: readonly HTMLElement[]; readonly nested: boolean; readonly alert: HTMLElement | undefined } {
  const root = memberOf(form, "getRootNode")() as Document | ShadowRoot;
  const found = [...root.querySelectorAll<HTMLElement>(`${rareParts}${tags === "" ? "" : `,${tags}`}`)];
  // A form that the platform reads into another one, as after a label that is not closed, has its own.
  const rare = found.filter((element) => element.closest("form") === form);
  // A control that `form=` ties to the form may stand in a group anywhere.
  const nested = found.some((element) => element.localName === "fieldset");
  const isAlert = (element: Element): boolean => element.getAttribute("role") === "alert";
  const own = rare.find(isAlert);
  const first = own ?? found.find(isAlert);
  const only = own !== undefined || first === undefined || root.querySelectorAll("form").length === 1;
  return { rare, nested, alert: only ? first : undefined };
}

/** Whether the controls of an element are those inside it, to which it has given its name. */
const isOfItsParts = (
  element: Element,
  elements: readonly Element[],
  names: readonly string[],
  name: string,
): boolean => elements.some((each, place) => names[place] === name && element.contains(each));

/**
 * Reads names. Most pages have the fields in the model's order; then the model's own text is taken, which is compared in
 * a moment, while a text that comes from the platform has to be hashed each time that it is looked up.
 */
function namesOf(elements: readonly Element[], expected: readonly string[]): string[] {
  return elements.map((element, place) => {
    const name = element.getAttribute("name") ?? element.getAttribute("data-name") ?? "";
    return name === expected[place] ? expected[place] : name;
  });
}
