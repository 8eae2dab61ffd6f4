import { nearestName } from "../errors/index.ts";
import type { AnyKind, AnyModel } from "../model/index.ts";
import { type ControlSort, type NamedFacts, sortOf } from "./facts.ts";
import { suiting, suits } from "./suiting.ts";
import { quoted, type Verdict } from "./verdict.ts";

const described: Readonly<Record<ControlSort, string>> = {
  text: "a text field",
  number: "a number field",
  range: "a slider",
  date: "a date field",
  time: "a time field",
  dateTime: "a field for date and time",
  month: "a field for a month or a week",
  color: "a colour field",
  file: "a file field",
  checkBox: "a check box",
  radio: "radio buttons",
  toggle: "toggle buttons",
  select: "a select",
  selectMultiple: "a select with multiple",
  custom: "a custom element",
  output: "an output",
  button: "a button",
  hidden: "a hidden input",
  other: "this control",
};

/** Whether a control suits its field. */
export function judgeSort(control: NamedFacts, kind: AnyKind): Verdict | undefined {
  const sort = sortOf(control);
  if (suits(sort, kind.kind)) return undefined;
  const right = suiting[kind.kind].filter((each) => each !== "custom").map((each) => described[each]);
  return {
    code: "unsuitedControl",
    message: `${capital(described[sort])} ${sort === "radio" || sort === "toggle" ? "do" : "does"} not suit the field ${quoted(control.name)}, which is ${kind.kind}. Right would be ${right.length === 0 ? "an output" : right.join(" or ")}.`,
    place: control.place,
  };
}

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** Attributes of HTML, and the constraint of the model that each of them would repeat. */
const constraints: readonly (readonly [attribute: string, option: string])[] = [
  ["min", "minimum"],
  ["max", "maximum"],
  ["minlength", "minLength"],
  ["maxlength", "maxLength"],
  ["pattern", "pattern"],
  ["required", "required"],
];

/** Attributes of the page that say something else than the model. */
export function judgeAttributes(control: NamedFacts, kind: AnyKind, name: string): Verdict[] {
  const verdicts: Verdict[] = [];
  const options = kind.options as Readonly<Record<string, unknown>>;
  for (const [attribute, option] of constraints) {
    const said = control.attribute(attribute);
    if (said === undefined) continue;
    const wanted = options[option];
    // The `required` of a check box means "must be ticked", and a range always has limits of its own.
    const isRequired = kind.kind === "boolean" ? options["const"] === true : wanted === true;
    const agrees = attribute === "required" ? isRequired : String(wanted) === said;
    if (!agrees)
      verdicts.push({
        code: "contradiction",
        message: `The page says ${attribute}=${quoted(said)} of ${quoted(name)}, the model says ${wanted === undefined ? `nothing of ${option}` : `${option} ${String(wanted)}`}. The model holds.`,
        place: control.place,
      });
  }
  return verdicts;
}

/** A value that the page gives the control at first, and that is not the model's default. */
export function judgeInitial(control: NamedFacts, kind: AnyKind, name: string): Verdict[] {
  const initial = control.attribute("value");
  if (!["text", "number", "range"].includes(sortOf(control))) return [];
  if (initial === undefined || initial === "") return [];
  const defaultValue = kind.options.default as unknown;
  if (String(defaultValue) === initial) return [];
  const says =
    defaultValue === undefined ? "the model has no default" : `the model's default is ${quoted(String(defaultValue))}`;
  return [
    {
      code: "initialDiffers",
      message: `The page begins ${quoted(name)} with value=${quoted(initial)}, but ${says}. The model holds.`,
      place: control.place,
    },
  ];
}

/** Check boxes and radio buttons that are ticked in the page and not by the model's default. */
export function judgeTicked(control: NamedFacts, kind: AnyKind, name: string): Verdict[] {
  if (control.attribute("checked") === undefined) return [];
  const defaultValue: unknown = kind.options.default;
  const value = control.attribute("value") ?? "on";
  const right = Array.isArray(defaultValue)
    ? defaultValue.map(String).includes(value)
    : defaultValue === true || (defaultValue !== undefined && String(defaultValue) === value);
  if (right) return [];
  return [
    {
      code: "initialDiffers",
      message: `The page begins ${quoted(name)} with ${quoted(value)} ticked, the model does not. The model holds.`,
      place: control.place,
    },
  ];
}

const near = (value: string, values: readonly string[]): string => {
  const nearest = nearestName(value, values);
  return nearest === undefined ? "" : ` Did you mean ${quoted(nearest)}?`;
};

/**
 * The values of radio buttons, toggle buttons, a set of check boxes or a select's options, beside the model's choices.
 *
 * @param place - where it is told that a choice is missing; `undefined` where not all have to be there
 */
export function judgeChoices(
  model: AnyModel,
  name: string,
  offered: readonly { value: string | undefined; place: string }[],
  place: string | undefined,
): Verdict[] {
  const kind = model.kindOf(name)!;
  const values = (kind.choices ?? []).map((choice) => String(choice.const));
  const verdicts: Verdict[] = [];
  const seen = new Set<string>();
  for (const { value, place: at } of offered) {
    const option = { value: value ?? "", place: at };
    if (value === undefined)
      verdicts.push({
        code: "unknownChoice",
        message: `This has no value, so it stands for none of the choices of ${quoted(name)}. The choices are: ${values.join(", ")}.`,
        place: at,
      });
    else if (seen.has(option.value))
      verdicts.push({
        code: "twoOptionsOneValue",
        message: `Two options of ${quoted(name)} have the value ${quoted(option.value)}.`,
        place: option.place,
      });
    else if (!values.includes(option.value))
      verdicts.push({
        code: "unknownChoice",
        message: `${quoted(option.value)} is not one of the choices of ${quoted(name)}.${near(option.value, values)} The choices are: ${values.join(", ")}.`,
        place: option.place,
      });
    seen.add(option.value);
  }
  const missing = values.filter((value) => !seen.has(value));
  if (place !== undefined && missing.length > 0)
    verdicts.push({
      code: "missingChoice",
      message: `The page has no option of ${quoted(name)} for ${missing.map(quoted).join(", ")}.`,
      place,
    });
  return verdicts;
}
