/** Small questions to the document, asked in one place. */

import { getOrMake } from "../engine/index.ts";
import { scopedName } from "../markup/index.ts";
import { memberOf } from "./memberOf.ts";

/** A control of a form that can hold an entry's value: one of HTML's, a toggle button, or a custom element. */
export type ControlElement = HTMLElement;

/** Inputs and buttons that show no field. */
const actions = new Set(["submit", "reset", "image"]);

export function isControl(element: Element): element is ControlElement {
  switch (element.localName) {
    case "input":
      return !actions.has((element as HTMLInputElement).type) && (element as HTMLInputElement).type !== "button";
    case "textarea":
    case "select":
      return true;
    case "button":
      return (element as HTMLButtonElement).type === "button" && !element.hasAttribute("command");
    default:
      return element.localName.includes("-");
  }
}

/** Whether something is an element, of whichever document: each window has classes of its own. */
export const isElement = (thing: unknown): thing is Element => (thing as Node | null | undefined)?.nodeType === 1;

/** Whether something is an element of HTML with a name, of whichever document. */
export const isNamed = <N extends keyof HTMLElementTagNameMap>(
  thing: unknown,
  name: N,
): thing is HTMLElementTagNameMap[N] => isElement(thing) && memberOf(thing, "localName") === name;

/** What has the focus in the document, or in the shadow tree, that an element stands in. */
export function activeBeside(element: Element): Element | null {
  const root = memberOf(element, "getRootNode")() as Partial<DocumentOrShadowRoot>;
  return root.activeElement ?? null;
}

/** An element as messages show it: its start tag with the attributes by which people find it. */
export function placeOf(element: Element): string {
  const attribute = memberOf(element, "getAttribute");
  const shown = ["id", "name", "data-name", "type", "value", "command"].flatMap((name) => {
    const value = attribute(name);
    return value === null ? [] : [` ${name}="${value.slice(0, 40)}"`];
  });
  return `<${memberOf(element, "localName")}${shown.join("")}>`;
}

/**
 * The name of a control with the names of the fieldsets round it, inside the form in which it stands: with `form=` that may be
 * another form than its own.
 */
export function fullName(element: Element, nested: boolean): string {
  const own = element.getAttribute("name") ?? element.getAttribute("data-name") ?? "";
  if (!nested) return own;
  const scopes: string[] = [];
  for (let outer = element.parentElement; outer !== null && outer.localName !== "form"; outer = outer.parentElement) {
    const name = outer.localName === "fieldset" ? outer.getAttribute("name") : null;
    if (name) scopes.unshift(name);
  }
  return scopedName(own, scopes);
}

/**
 * Has elements stand in an order from a place on. Only what is not where it should be is moved; what has the focus stays, and
 * the others go round it, since an element that is moved loses it.
 *
 * @param at - what stands at that place now
 * @param end - what stands behind all of them; nothing where they are the last
 */
export function placeInOrder(
  parent: Element,
  wanted: readonly Element[],
  at: Element | null,
  end: Element | null = null,
): void {
  const active = activeBeside(parent);
  for (const element of wanted) {
    if (element === at) at = at.nextElementSibling;
    else if (element.parentNode === parent && element.contains(active)) {
      while (at !== null && at !== element && at !== end) {
        const next: Element | null = at.nextElementSibling;
        parent.insertBefore(at, end);
        at = next;
      }
      at = element.nextElementSibling;
    } else parent.insertBefore(element, at);
  }
}

/** Gives an element an id if it has none. @returns the id */
export function ensureId(element: Element, wanted: string): string {
  if (element.id !== "") return element.id;
  const { ownerDocument } = element;
  const root = element.getRootNode() as Partial<DocumentFragment>;
  const given = getOrMake(givenIds, ownerDocument, () => new Map<string, WeakRef<Element>>());
  // What is not in the page yet, or in a shadow tree of it, is not found by its id.
  const isTaken = (id: string): boolean =>
    ownerDocument.getElementById(id) !== null || root.getElementById?.(id) != null || given.get(id)?.deref()?.id === id;
  let id = wanted;
  for (let number = 2; isTaken(id); number++) id = `${wanted}-${number}`;
  // Those of rows that are gone go too, from time to time.
  if (given.size % 256 === 255) for (const [each, holder] of given) if (holder.deref()?.id !== each) given.delete(each);
  given.set(id, new WeakRef(element));
  element.id = id;
  return id;
}

/** The ids that were given here, by document. */
const givenIds = new WeakMap<Document, Map<string, WeakRef<Element>>>();

/** Puts a text into an element, keeping its line breaks, as text and never as markup. */
export function showLines(element: Element, text: string): void {
  if (!text.includes("\n")) {
    // A text that is there is changed, not replaced: that is no change of the page's structure, which forms watch.
    const only = element.firstChild;
    if (only !== null && only.nodeType === Node.TEXT_NODE && only.nextSibling === null) only.nodeValue = text;
    else element.textContent = text;
    return;
  }
  const nodes = text
    .split(/\r?\n/)
    .flatMap((line, place) => (place === 0 ? [line] : [element.ownerDocument.createElement("br"), line]));
  element.replaceChildren(...nodes);
}

/** Adds an id to a list of ids in an attribute, or takes it out. */
export function toggleIdIn(element: Element, attribute: string, id: string, present: boolean): void {
  const all = element.getAttribute(attribute) ?? "";
  // Most have no other.
  if (present && all === "") return element.setAttribute(attribute, id);
  const before = all === id ? [] : all.split(/\s+/).filter((each) => each !== "" && each !== id);
  const after = present ? [...before, id] : before;
  if (after.length === 0) element.removeAttribute(attribute);
  else element.setAttribute(attribute, after.join(" "));
}

export function toggleAttribute(element: Element, name: string, value: string | undefined): void {
  if (value === undefined) element.removeAttribute(name);
  else if (element.getAttribute(name) !== value) element.setAttribute(name, value);
}

const untyped = new Set(["button", "checkbox", "color", "file", "image", "radio", "range", "reset", "submit"]);

/** Whether text can be typed into it. */
export function takesText(target: EventTarget | null): boolean {
  if (isNamed(target, "input")) return !untyped.has(target.type);
  if (!isElement(target)) return false;
  // What a custom element does with keys is its own affair.
  return isNamed(target, "textarea") || (target as HTMLElement).isContentEditable || target.localName.includes("-");
}

/** Puts a caption on a button: into the text that it has, so that an icon beside it stays. */
export function setCaption(button: Element, caption: string): void {
  const texts = [...button.childNodes].filter(
    (node) => node.nodeType === Node.TEXT_NODE && node.nodeValue!.trim() !== "",
  );
  const last = texts.at(-1);
  if (last === undefined) button.append(caption);
  else if (last.nodeValue !== caption) last.nodeValue = caption;
}

/** The labels of a control; none where an element of a component library has no such member. */
export const labelsOf = (element: Element): NodeListOf<HTMLLabelElement> | null | undefined =>
  (element as HTMLInputElement).labels;

export const disable = (element: Element, disabled: boolean): void => {
  (element as HTMLInputElement).disabled = disabled;
};

/** Whether a key is of an input method. The key that ends a composition comes after it in some engines, with the code 229 of UI Events. */
export const isOfInputMethod = (event: KeyboardEvent): boolean =>
  event.isComposing || (event as { readonly keyCode: number }).keyCode === 229;
