import { commandAttribute, commandName, type ControlSort, sortBy, suits } from "../../markup/index.ts";
import type { AnyKind, AnyModel } from "../../model/index.ts";
import { commandButtons, type NamedElement } from "../facts.ts";

/** What only the judge can tell: whether an attribute of the page repeats the model or contradicts it. */
const odd =
  ":is(input,select,textarea):is([min],[max],[minlength],[maxlength],[pattern],[required],[checked])," +
  "input[value]:not([type=radio],[type=checkbox],[type=hidden])";

export const sortOfElement = (element: Element): ControlSort =>
  sortBy(
    element.localName,
    (element as HTMLInputElement).type,
    (element as HTMLSelectElement).multiple,
    element.localName === "button" &&
      (element as HTMLButtonElement).type === "button" &&
      element.hasAttribute("name") &&
      !element.hasAttribute("command"),
  );

/**
 * Whether there is nothing to say about a form: each control has a known name and suits its field, no attribute says
 * what the model says too, and no field is left without a control. Most forms are so, and need no judge.
 */
export function isPlainForm(form: HTMLFormElement, named: readonly NamedElement[], model: AnyModel): boolean {
  const groups = new Map<string, Element[]>();
  const shown = new Set<string>();
  for (const [element, name] of named) {
    const sort = sortOfElement(element);
    if (sort === "button" || sort === "other" || sort === "hidden") continue;
    if (name === "" && (sort === "output" || sort === "custom")) continue;
    const kind = model.kindOf(name);
    if (kind === undefined ? !model.isCalculated(name) : !suits(sort, kind.kind)) return false;
    if (sort === "output") {
      shown.add(name);
      continue;
    }
    if (kind?.choices !== undefined || shown.has(name)) {
      const group = groups.get(name);
      if (group === undefined) groups.set(name, [element]);
      else group.push(element);
      if (kind?.choices === undefined) return false;
    }
    shown.add(name);
  }
  for (const name of model.names as readonly string[])
    if (!shown.has(name) && !model.isCalculated(name) && model.kindOf(name)!.options.readOnly !== true) return false;
  for (const [name, group] of groups) if (!offersAll(group, model.kindOf(name)!, model.parts.choices.has(name))) return false;
  if (form.querySelector(odd) !== null) return false;
  return form.id === "" || !named.some(([element]) => !form.contains(element) && element.matches(odd));
}

/** Whether what the page lists is what can be chosen. */
function offersAll(group: readonly Element[], kind: AnyKind, depends: boolean): boolean {
  const [first] = group as [HTMLInputElement];
  const ticked = first.type === "radio" || (first.type === "checkbox" && kind.kind === "someOf");
  if (!ticked && group.length > 1) return first.localName === "button";
  const listed = ticked
    ? group.map((element) => (element as HTMLInputElement).value)
    : [...(first.localName === "select" ? first.querySelectorAll("option") : [])]
        .map((option) => option.value)
        .filter((value) => value !== "");
  if (depends || kind.source !== undefined || listed.length === 0) return true;
  const values = new Set(kind.choices!.map((choice) => String(choice.const)));
  return listed.length === values.size && listed.every((value) => values.delete(value));
}

/** Whether there is nothing to say about a page beside its forms: every name is known, and every command has its button. */
export function isPlainPage(
  root: ParentNode,
  forms: readonly HTMLFormElement[],
  models: ReadonlyMap<string, AnyModel>,
  commands: readonly string[],
): boolean {
  const names = forms.map((form) => form.getAttribute("name") ?? "");
  if (names.some((name) => name !== "" && !models.has(name))) return false;
  for (const name of models.keys()) if (!names.includes(name)) return false;
  const asked = new Set(commandButtons(root).map((button) => commandName(button.getAttribute("command")!)));
  if (asked.size !== commands.length || !commands.every((name) => asked.has(name))) return false;
  if (new Set(commands.map(commandAttribute)).size !== commands.length) return false;
  for (const element of root.querySelectorAll("[data-name]")) {
    const [thing = "", ...rest] = element.getAttribute("data-name")!.split(".");
    const model = models.get(thing);
    if (model !== undefined && rest.length > 0 && element.closest("form") === null && !model.names.includes(rest.join(".")))
      return false;
  }
  return true;
}
