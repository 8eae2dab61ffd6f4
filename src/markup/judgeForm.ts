import { nearestName } from "../errors/index.ts";
import type { AnyModel } from "../model/index.ts";
import { type FormFacts, type NamedFacts, sortOf } from "./facts.ts";
import { judgeAttributes, judgeChoices, judgeInitial, judgeSort, judgeTicked } from "./judgeControl.ts";
import { quoted, type Verdict } from "./verdict.ts";

/**
 * Everything in a form that does not agree with the model, in the page's order; then the fields with no control.
 *
 * @param shownElsewhere - fields that need no control in the form
 */
export function judgeForm(form: FormFacts, model: AnyModel, shownElsewhere: readonly string[] = []): Verdict[] {
  const verdicts: Verdict[] = [];
  const byName = new Map<string, NamedFacts[]>();
  const known = new Set(model.names);
  // The fields that misspelled controls are probably for: that these have no control is said already.
  const meant = new Set<string>();
  const strange = form.controls.filter(({ tag, name }) => tag === "fieldset" && isStrangeGroup(name, model));
  verdicts.push(...strange.map((control) => unknownGroup(control, form, model)));
  for (const control of form.controls) {
    const sort = sortOf(control);
    if (sort === "button" || sort === "other") continue;
    // What is in it is meant for a group that there is, and told once.
    if (strange.some(({ name }) => control.name.startsWith(`${name}.`))) continue;
    if (control.name === "") {
      if (sort !== "output" && sort !== "hidden" && sort !== "custom") verdicts.push(noName(control, model));
    } else if (!known.has(control.name)) {
      if (sort === "hidden") continue;
      const nearest = nearestName(control.name, model.names);
      verdicts.push(unknownField(control, nearest, form, model));
      if (nearest !== undefined && sort !== "output") meant.add(nearest);
    } else {
      const same = byName.get(control.name);
      if (same === undefined) byName.set(control.name, [control]);
      else same.push(control);
    }
  }
  for (const [name, controls] of byName) verdicts.push(...judgeField(name, controls, model));
  return [...verdicts, ...fieldsWithout(new Set([...byName.keys(), ...meant, ...shownElsewhere]), form, model)];
}

function judgeField(name: string, all: readonly NamedFacts[], model: AnyModel): Verdict[] {
  const kind = model.kindOf(name);
  const controls = all.filter((control) => sortOf(control) !== "output");
  if (kind === undefined || controls.length === 0) return [];
  const verdicts: Verdict[] = [];
  for (const control of controls) {
    const unsuited = judgeSort(control, kind);
    if (unsuited !== undefined) verdicts.push(unsuited);
    else
      verdicts.push(
        ...judgeAttributes(control, kind, name),
        ...judgeInitial(control, kind, name),
        ...judgeTicked(control, kind, name),
      );
  }
  if (verdicts.some((verdict) => verdict.code === "unsuitedControl")) return verdicts;
  return [...verdicts, ...judgeOffered(name, controls, model), ...repeated(name, controls, model)];
}

function judgeOffered(name: string, controls: readonly NamedFacts[], model: AnyModel): Verdict[] {
  const { kind, choices, source } = model.kindOf(name)!;
  // Choices that depend on other fields, that grow or are asked for can't be compared with what the page lists.
  if (choices === undefined || source !== undefined || model.parts.choices.has(name)) return [];
  const verdicts: Verdict[] = [];
  // Each sort for itself: radio buttons and toggle buttons of one field may stand on one page.
  for (const sort of ["radio", "toggle", "checkBox"] as const) {
    const offered = controls
      .filter((control) => sortOf(control) === sort && (sort !== "toggle" || (control.attribute("value") ?? "") !== ""))
      .map((control) => ({ value: control.attribute("value"), place: control.place }));
    if (offered.length === 0 || kind === "boolean") continue;
    // One check box of a single choice stands for its own value only.
    const isWhole = sort !== "checkBox" || kind === "someOf";
    verdicts.push(...judgeChoices(model, name, offered, isWhole ? offered[0]!.place : undefined));
  }
  for (const control of controls) {
    const offered = control.options
      .map((option) => ({ value: option.attribute("value") ?? option.text().trim(), place: option.place }))
      .filter((option) => option.value !== "");
    if (offered.length > 0) verdicts.push(...judgeChoices(model, name, offered, control.place));
  }
  return verdicts;
}

/** Several controls may show one field, but two of the very same sort are a copy that was not renamed. */
function repeated(name: string, controls: readonly NamedFacts[], model: AnyModel): Verdict[] {
  const set = model.kindOf(name)!.kind === "someOf";
  const seen = new Set<string>();
  return controls.flatMap((control) => {
    const sort = sortOf(control);
    if (sort === "radio" || sort === "toggle" || sort === "custom" || (set && sort === "checkBox")) return [];
    // List boxes that show different columns of the same records stay in step.
    if (sort === "select" && Number(control.attribute("size") ?? 1) > 1) return [];
    const sameSort = `${control.tag} ${control.attribute("type") ?? ""}`;
    if (!seen.has(sameSort)) {
      seen.add(sameSort);
      return [];
    }
    return [
      {
        code: "repeatedName" as const,
        message: `The name ${quoted(name)} stands at two controls of one sort.`,
        place: control.place,
      },
    ];
  });
}

function noName(control: NamedFacts, model: AnyModel): Verdict {
  const what =
    sortOf(control) === "radio" ? "A radio button has no name, so it belongs to no group" : "A control has no name";
  return { code: "noName", message: `${what}. The fields are: ${model.names.join(", ")}.`, place: control.place };
}

function unknownField(control: NamedFacts, nearest: string | undefined, form: FormFacts, model: AnyModel): Verdict {
  const hint = nearest === undefined ? "" : ` Did you mean ${quoted(nearest)}?`;
  return {
    code: "unknownField",
    message: `The model of ${ownerOf(form)} has no field ${quoted(control.name)}.${hint} The fields are: ${model.names.join(", ")}.`,
    place: control.place,
  };
}

/** Forms that are bound by themselves, as that of a dialog, need no name. */
const ownerOf = ({ name }: FormFacts): string => (name === "" ? "this form" : quoted(name));
const called = ({ name }: FormFacts): string => (name === "" ? "this form" : `the form ${quoted(name)}`);

/** Whether a fieldset has a name, and it is that of no group and of no field. */
const isStrangeGroup = (name: string, model: AnyModel): boolean =>
  name !== "" && !model.groups.has(name) && !model.names.includes(name);

function unknownGroup(control: NamedFacts, form: FormFacts, model: AnyModel): Verdict {
  const groups = [...model.groups.keys()];
  const nearest = nearestName(control.name, groups);
  const hint = nearest === undefined ? "" : ` Did you mean ${quoted(nearest)}?`;
  const all = groups.length === 0 ? "It has no groups" : `The groups are: ${groups.join(", ")}`;
  return {
    code: "unknownField",
    message: `The model of ${ownerOf(form)} has no group ${quoted(control.name)}.${hint} ${all}.`,
    place: control.place,
  };
}

function fieldsWithout(shown: ReadonlySet<string>, form: FormFacts, model: AnyModel): Verdict[] {
  const without = model.names.filter(
    (name) => !shown.has(name) && !model.isCalculated(name) && model.kindOf(name)?.options.readOnly !== true,
  );
  if (without.length === 0) return [];
  const names = without.map((name) => `${quoted(name)} (${model.titleOf(name)})`).join(", ");
  const what = without.length === 1 ? "This field has" : "These fields have";
  return [{ code: "noControl", message: `${what} no control in ${called(form)}: ${names}.`, place: form.place }];
}
