import { isNamed } from "./dom.ts";
import { memberOf } from "./memberOf.ts";

/** The attributes that are written here. What the page itself changes meanwhile, as classes and styles, stays. */
const written = new Set([
  ...["accept", "autocomplete", "datetime", "disabled", "hidden", "id", "inputmode", "list", "max", "maxlength", "min"],
  ...["minlength", "name", "novalidate", "pattern", "placeholder", "readonly", "required", "role", "step", "tabindex"],
  ...["title", "type", "value", "data-icon", "data-out-of-date", "data-severity"],
]);

/** What an element of the page was like before it was bound. */
export class FoundElement {
  readonly #element: Element;
  readonly #also: readonly string[];
  readonly #attributes: ReadonlyMap<string, string>;
  /** Of an element of a component library, which has no value that the markup says. */
  readonly #value: unknown;
  readonly #content: readonly (readonly [node: ChildNode, text: string | null])[] | undefined;

  /**
   * @param content - whether what is in it will be written too
   * @param also - other attributes that will be written
   */
  constructor(element: Element, content = false, also: readonly string[] = []) {
    this.#element = element;
    this.#also = also;
    this.#attributes = this.#attributesNow();
    this.#value = memberOf(element, "localName").includes("-") ? (element as HTMLInputElement).value : undefined;
    this.#content = content ? [...element.childNodes].map((node) => [node, node.nodeValue] as const) : undefined;
  }

  #attributesNow(): Map<string, string> {
    const found = new Map<string, string>();
    // A form's own members may be hidden by controls of the same names.
    for (const { name, value } of memberOf(this.#element, "attributes"))
      if (written.has(name) || name.startsWith("aria-") || this.#also.includes(name)) found.set(name, value);
    return found;
  }

  /** Makes it again what it was. Its value is the markup's: what a person had put in was taken when it was bound. */
  restore(): void {
    const element = this.#element;
    const now = this.#attributesNow();
    for (const name of now.keys()) if (!this.#attributes.has(name)) memberOf(element, "removeAttribute")(name);
    for (const [name, value] of this.#attributes)
      if (now.get(name) !== value) memberOf(element, "setAttribute")(name, value);
    if (this.#value !== undefined) (element as HTMLInputElement).value = this.#value as string;
    else restoreValue(element);
    for (const [node, text] of this.#content ?? []) if (node.nodeValue !== text) node.nodeValue = text;
    if (this.#content !== undefined) element.replaceChildren(...this.#content.map(([node]) => node));
  }
}

/** Gives a control the value that the markup says. */
export function restoreValue(element: Element): void {
  if (isNamed(element, "select")) restoreChosen(element);
  else if (isNamed(element, "textarea")) element.value = element.defaultValue;
  else if (isNamed(element, "input")) restoreInput(element);
}

function restoreInput(input: HTMLInputElement): void {
  if (input.type === "checkbox" || input.type === "radio") {
    input.indeterminate = false;
    input.checked = input.defaultChecked;
  } else if (input.type === "file") input.value = "";
  else input.value = input.defaultValue;
}

function restoreChosen(select: HTMLSelectElement): void {
  const options = [...select.options];
  for (const option of options) option.selected = option.defaultSelected;
  const looksEmpty = select.multiple || select.size > 1;
  if (!looksEmpty && !options.some(({ defaultSelected }) => defaultSelected))
    select.selectedIndex = options.findIndex(({ disabled }) => !disabled);
}
