import { getOrMake } from "../../engine/index.ts";
import { commandAttribute, commandName, type ControlSort, sortBy, suits } from "../../markup/index.ts";
import type { AnyKind, AnyModel } from "../../model/index.ts";
import { commandButtons } from "../facts.ts";
import { formName } from "../memberOf.ts";
import type { Survey } from "../survey.ts";

/** Attributes that only the judge can weigh against the model. */
const weighed = ["min", "max", "minlength", "maxlength", "pattern", "required", "checked"];

const sortOfElement = (element: Element): ControlSort =>
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
export function isPlainForm({ elements, names, plain, exact }: Survey, model: AnyModel): boolean {
  if (exact) return isAllText(model);
  const shown = new Set<string>();
  const groups = new Map<string, Element[]>();
  for (let place = 0; place < elements.length; place++) {
    const element = elements[place]!;
    const name = names[place]!;
    const kind = model.kindOf(name);
    const easy = (plain === undefined || plain.has(element)) && isForText(kind) && !shown.has(name);
    if (easy) shown.add(name);
    else if (!isPlainElement(element, name, model, shown, groups)) return false;
  }
  for (const [name, group] of groups)
    if (!offersAll(group, model.kindOf(name)!, model.parts.choices.has(name))) return false;
  return model.names.every(
    (name) => shown.has(name) || model.isCalculated(name) || model.kindOf(name)!.options.readOnly === true,
  );
}

const allText = new WeakMap<AnyModel, boolean>();

/** Whether all fields of a model are for text; found out once, as the same model is bound by many forms in turn. */
function isAllText(model: AnyModel): boolean {
  return getOrMake(allText, model, () => model.names.every((name) => isForText(model.kindOf(name))));
}

const isForText = (kind: AnyKind | undefined): boolean =>
  kind !== undefined && kind.choices === undefined && suits("text", kind.kind);

function isPlainElement(
  element: Element,
  name: string,
  model: AnyModel,
  shown: Set<string>,
  groups: Map<string, Element[]>,
): boolean {
  const sort = sortOfElement(element);
  if (sort === "button" || sort === "other" || sort === "hidden") return true;
  if (name === "" && (sort === "output" || sort === "custom")) return true;
  const kind = model.kindOf(name);
  if (kind === undefined ? !model.isCalculated(name) : !suits(sort, kind.kind)) return false;
  if (sort !== "output" && kind !== undefined) {
    const ticked = sort === "radio" || sort === "checkBox";
    if (weighed.some((attribute) => element.hasAttribute(attribute))) return false;
    if (!ticked && element.localName === "input" && element.hasAttribute("value")) return false;
    const group = groups.get(name);
    if (kind.choices === undefined && shown.has(name)) return false;
    if (group !== undefined) group.push(element);
    else if (kind.choices !== undefined) groups.set(name, [element]);
  }
  shown.add(name);
  return true;
}

/** Whether what the page lists is what can be chosen. */
function offersAll(group: readonly Element[], kind: AnyKind, depends: boolean): boolean {
  const [first] = group as [HTMLInputElement];
  const ticked = first.type === "radio" || (first.type === "checkbox" && kind.kind === "someOf");
  if (group.some((element) => (element as HTMLInputElement).type !== first.type)) return false;
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
  forms: readonly Survey[],
  models: ReadonlyMap<string, AnyModel>,
  commands: readonly string[],
): boolean {
  const names = forms.map(({ form }) => formName(form));
  if (names.some((name) => name !== "" && !models.has(name))) return false;
  for (const name of models.keys()) if (!names.includes(name)) return false;
  const asked = new Set(commandButtons(root).map((button) => commandName(button.getAttribute("command")!)));
  if (asked.size !== commands.length || !commands.every((name) => asked.has(name))) return false;
  if (new Set(commands.map(commandAttribute)).size !== commands.length) return false;
  return [...root.querySelectorAll("[data-name]")].every((element) => {
    const [thing = "", ...rest] = element.getAttribute("data-name")!.split(".");
    const names = models.get(thing)?.names;
    return (
      names === undefined || rest.length === 0 || element.closest("form") !== null || names.includes(rest.join("."))
    );
  });
}
