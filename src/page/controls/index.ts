import type { FieldState } from "../../entry/index.ts";
import { ComboControl } from "../combo/comboControl.ts";
import type { ControlElement } from "../dom.ts";
import { adapterFor } from "./adapters.ts";
import { CheckBox } from "./checkBox.ts";
import { CheckBoxSet } from "./checkBoxSet.ts";
import { ColorControl } from "./colorControl.ts";
import { CustomControl } from "./customControl.ts";
import { DateControl } from "./dateControl.ts";
import { FileControl } from "./fileControl.ts";
import type { ControlContext } from "./ControlContext.ts";
import type { PageControl } from "./PageControl.ts";
import { missingPeriod, PeriodControl } from "./periodControl.ts";
import { RadioGroup } from "./radioGroup.ts";
import { RangeControl } from "./rangeControl.ts";
import { SelectControl } from "./selectControl.ts";
import { SuggestedControl } from "./suggestedControl.ts";
import { Spinner } from "./spinner.ts";
import { TextControl } from "./textControl.ts";
import { ToggleGroup } from "./toggleGroup.ts";

export { adaptControl, adaptedTags, type ControlAdapter, type Shown, type Taken } from "./adapters.ts";
export type { ControlContext } from "./ControlContext.ts";
export { describe, type PageControl } from "./PageControl.ts";
export { prepareText, TextControl, type TextElement } from "./textControl.ts";

/** The control for elements that show one field: radio buttons, toggles, or the boxes of a set, come all together. */
export function makeControl(
  field: FieldState,
  elements: readonly ControlElement[],
  context: ControlContext,
): PageControl | undefined {
  const [element] = elements as readonly [ControlElement];
  const { kind } = field;
  switch (element.localName) {
    case "select":
      return new SelectControl(field, element as HTMLSelectElement, context);
    case "button":
      return new ToggleGroup(field, elements as HTMLButtonElement[], context);
    case "input":
      return makeInput(field, elements as HTMLInputElement[], context);
    case "textarea":
      return new TextControl(field, element as HTMLTextAreaElement, context);
    default:
      return new CustomControl(field, element, adapterFor(element, kind), context);
  }
}

function makeInput(
  field: FieldState,
  elements: readonly HTMLInputElement[],
  context: ControlContext,
): PageControl | undefined {
  const [element] = elements as readonly [HTMLInputElement];
  const { kind } = field.kind;
  switch (element.type) {
    case "checkbox":
      return kind === "someOf" ? new CheckBoxSet(field, elements, context) : new CheckBox(field, element, context);
    case "radio":
      return new RadioGroup(field, elements, context);
    case "range":
      if (field.kind.stepped !== undefined) return new RangeControl(field, element, context);
      break;
    case "color":
      return new ColorControl(field, element, context);
    case "file":
      // No value but a file can be put into it.
      return kind === "file" ? new FileControl(field, element, context) : undefined;
    case "date":
    case "time":
    case "datetime-local":
    case "month":
    case "week":
      // An instant is read from a whole date and time only.
      if (kind !== "instant" || element.type === "datetime-local") return new DateControl(field, element, context);
      break;
    case "hidden":
      return undefined;
    case "number":
      if (field.kind.stepped !== undefined) return new Spinner(field, element, context);
      break;
  }
  const period = missingPeriod(element);
  if (period !== undefined) return new PeriodControl(field, element, period, context);
  // A list that the page names is the platform's; without one, choices get a combo box.
  if (element.hasAttribute("list")) return new SuggestedControl(field, element, context);
  const chooses = kind === "oneOf" || field.choices !== undefined;
  return chooses ? new ComboControl(field, element, context) : new TextControl(field, element, context);
}

/** Elements that make one control together. */
export function groupsOf(elements: readonly ControlElement[], field: FieldState): ControlElement[][] {
  const groups = new Map<string, ControlElement[]>();
  const singles: ControlElement[][] = [];
  for (const element of elements) {
    const sort = together(element, field);
    const group = sort === undefined ? undefined : groups.get(sort);
    if (group !== undefined) group.push(element);
    else if (sort !== undefined) groups.set(sort, [element]);
    else singles.push([element]);
  }
  return [...groups.values(), ...singles];
}

/** What an element makes one control with: others of its sort. */
function together(element: ControlElement, field: FieldState): string | undefined {
  if (element.localName === "button") return "toggle";
  if (element.localName !== "input") return undefined;
  const { type } = element as HTMLInputElement;
  return type === "radio" || (type === "checkbox" && field.kind.kind === "someOf") ? type : undefined;
}
