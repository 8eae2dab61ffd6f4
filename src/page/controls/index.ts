import type { Field } from "../../entry/index.ts";
import type { ControlElement } from "../dom.ts";
import { CheckBox } from "./checkBox.ts";
import { CheckBoxSet } from "./checkBoxSet.ts";
import { DateControl } from "./dateControl.ts";
import type { ControlContext, PageControl } from "./PageControl.ts";
import { RadioGroup } from "./radioGroup.ts";
import { RangeControl } from "./rangeControl.ts";
import { SelectControl } from "./selectControl.ts";
import { TextControl } from "./textControl.ts";

export type { ControlContext, PageControl } from "./PageControl.ts";

const dateTypes = new Set(["date", "time", "datetime-local"]);

/** The control for elements that show one field: radio buttons, or the check boxes of a set, come all together. */
export function makeControl(
  field: Field,
  elements: readonly ControlElement[],
  context: ControlContext,
): PageControl | undefined {
  const [element] = elements as readonly [ControlElement];
  const { kind } = field.kind;
  if (element.localName === "select") return new SelectControl(field, element as HTMLSelectElement, context);
  if (element.type === "checkbox")
    return kind === "someOf"
      ? new CheckBoxSet(field, elements as HTMLInputElement[], context)
      : new CheckBox(field, element as HTMLInputElement, context);
  if (element.type === "radio") return new RadioGroup(field, elements as HTMLInputElement[], context);
  if (element.type === "range") return new RangeControl(field, element as HTMLInputElement, context);
  if (dateTypes.has(element.type)) return new DateControl(field, element as HTMLInputElement, context);
  if (element.type === "hidden") return undefined;
  return new TextControl(field, element as HTMLInputElement | HTMLTextAreaElement, context);
}

/** Elements that make one control together. */
export function groupsOf(elements: readonly ControlElement[], field: Field): ControlElement[][] {
  const together = (element: ControlElement): boolean =>
    element.type === "radio" || (element.type === "checkbox" && field.kind.kind === "someOf");
  const group = elements.filter(together);
  const singles = elements.filter((element) => !together(element)).map((element) => [element]);
  return group.length > 0 ? [group, ...singles] : singles;
}
