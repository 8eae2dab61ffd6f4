import { nearestName } from "../errors/index.ts";
import type { AnyModel } from "../model/index.ts";
import { commandAttribute, commandName, stepCommand, stepCommandNames } from "./commandName.ts";
import type { ElementFacts, FormFacts, NamedFacts, PageFacts } from "./facts.ts";
import { judgeForm } from "./judgeForm.ts";
import { quoted, type Verdict } from "./verdict.ts";

/** What a page is bound to: the models of its forms, and the names of its commands. */
export interface BoundThings {
  readonly models: ReadonlyMap<string, AnyModel>;
  readonly commands: readonly string[];
  /** The fields whose rows somebody has as a table, by the names of the forms. */
  readonly asTables?: ReadonlyMap<string, readonly string[]>;
  /** The names of the steps, by the names under which they were given. */
  readonly steps?: ReadonlyMap<string, readonly string[]>;
  /** The names of the entries that have nowhere to be saved. */
  readonly unsavable?: readonly string[];
  /** What shows rows, by the names under which it was given. */
  readonly parts?: ReadonlyMap<string, ShownRows>;
}

/** Rows that a page shows under a name. */
export interface ShownRows {
  /** The names of the elements that they can be shown in; blank for any. */
  readonly elements: readonly string[];
  /** What else can be shown of them, as `length`; `undefined` where that is not known. */
  readonly names: readonly string[] | undefined;
  /** What they are called. */
  readonly what: string;
}

/** Everything in a page that does not agree with what it is bound to. */
export function judgePage(page: PageFacts, things: BoundThings): Verdict[] {
  const formNames = page.forms.map((form) => form.name);
  // What shows a command or steps may stand in a form, and is no field of it.
  const isOther = (control: NamedFacts): boolean => {
    const [thing = ""] = (control.attribute("data-name") ?? "").split(".");
    return (
      thing !== "" &&
      (things.commands.includes(thing) || things.steps?.has(thing) === true || things.parts?.has(thing) === true)
    );
  };
  const verdicts = page.forms.flatMap((form) => {
    const model = things.models.get(form.name);
    const own = { ...form, controls: form.controls.filter((control) => !isOther(control)) };
    if (model !== undefined)
      return [...judgeForm(own, model, things.asTables?.get(form.name)), ...judgeSaving(own, things)];
    return form.name === "" ? [] : [unknownForm(form.name, form.place, things)];
  });
  for (const name of things.models.keys()) if (!formNames.includes(name)) verdicts.push(missingForm(name, formNames));
  return [
    ...verdicts,
    ...judgeOutputs(page, things),
    ...judgeParts([...page.outputs, ...page.forms.flatMap((form) => form.controls)], things),
    ...judgeSteps([...page.outputs, ...page.forms.flatMap((form) => form.controls)], things),
    ...judgeCommands(page.commands, things),
  ];
}

/** A button that saves needs an entry that can be saved. */
function judgeSaving(form: FormFacts, { unsavable = [] }: BoundThings): Verdict[] {
  const isSaving = (control: NamedFacts): boolean => {
    const type = control.attribute("type")?.toLowerCase();
    if (control.tag === "input") return type === "submit" || type === "image";
    return control.tag === "button" && (type ?? "submit") === "submit" && control.attribute("command") === undefined;
  };
  const button = unsavable.includes(form.name) ? form.controls.find(isSaving) : undefined;
  if (button === undefined) return [];
  const message = `The form ${quoted(form.name)} has a button that saves, and its entry has nowhere to be saved. Right would be newEntry(model, { save }).`;
  return [{ code: "nowhereToSave", message, place: button.place }];
}

/** Rows have an element that can show them, and what else is shown of them is something that they have. */
function judgeParts(named: readonly NamedFacts[], { parts = new Map<string, ShownRows>() }: BoundThings): Verdict[] {
  return [...parts].flatMap(([thing, { elements, names, what }]) => {
    const of = named.flatMap((element) => {
      const name = element.attribute("data-name") ?? "";
      return name === thing || name.startsWith(`${thing}.`) ? [{ element, rest: name.slice(thing.length + 1) }] : [];
    });
    const verdicts = of.flatMap(({ element, rest }): Verdict[] => {
      const { place, tag } = element;
      if (rest !== "")
        return names === undefined || names.includes(rest)
          ? []
          : [
              {
                code: "unknownName",
                message: `The ${what} ${quoted(thing)} have no ${quoted(rest)}.${hint(rest, names)}`,
                place,
              },
            ];
      if (elements.length === 0 || elements.includes(tag)) return [];
      const right = elements.map((each) => `<${each}>`).join(" or ");
      return [
        {
          code: "unsuitedControl",
          message: `The ${what} ${quoted(thing)} can't be shown in <${tag}>. Right would be ${right}.`,
          place,
        },
      ];
    });
    if (of.some(({ rest }) => rest === "")) return verdicts;
    const message = `The page has no element for the ${what} ${quoted(thing)}. It would have data-name=${quoted(thing)}.`;
    return [...verdicts, { code: "unknownName", message, place: "the page" }];
  });
}

/** Each step has its element, and each element that names a step of these names one that there is. */
function judgeSteps(
  named: readonly NamedFacts[],
  { steps = new Map<string, readonly string[]>() }: BoundThings,
): Verdict[] {
  return [...steps].flatMap(([thing, names]) => {
    const shown = named.flatMap((element) => {
      const name = element.attribute("data-name") ?? "";
      return name.startsWith(`${thing}.`) ? [{ name: name.slice(thing.length + 1), place: element.place }] : [];
    });
    const meant = shown.map(({ name }) => (names.includes(name) ? name : nearestName(name, names)));
    return [
      ...shown
        .filter(({ name }) => !names.includes(name))
        .map(({ name, place }) => ({
          code: "unknownName" as const,
          message: `The steps ${quoted(thing)} have no step ${quoted(name)}.${hint(name, names)}`,
          place,
        })),
      ...names
        .filter((name) => !meant.includes(name))
        .map((name) => ({
          code: "unknownName" as const,
          message: `The page has no element for the step ${quoted(name)}. It would have data-name=${quoted(`${thing}.${name}`)}.`,
          place: "the page",
        })),
    ];
  });
}

function unknownForm(name: string, place: string, { models }: BoundThings): Verdict {
  const names = [...models.keys()];
  return {
    code: "unknownName",
    message: `Nothing was given under the name of the form ${quoted(name)}.${hint(name, names)}`,
    place,
  };
}

function missingForm(name: string, names: readonly string[]): Verdict {
  return {
    code: "unknownName",
    message: `The page has no <form name=${quoted(name)}>.${hint(name, names)}`,
    place: "the page",
  };
}

function judgeOutputs(page: PageFacts, things: BoundThings): Verdict[] {
  const { models, commands, steps = new Map(), parts = new Map() } = things;
  const names = [...models.keys(), ...commands, ...steps.keys(), ...parts.keys()];
  return page.outputs.flatMap((output): Verdict[] => {
    const [thing = "", ...rest] = output.name.split(".");
    const model = models.get(thing);
    if (!names.includes(thing))
      return [
        {
          code: "unknownName" as const,
          message: `Nothing was given under the name ${quoted(thing)} for data-name=${quoted(output.name)}.${hint(thing, names)}`,
          place: output.place,
        },
      ];
    if (model === undefined || rest.length === 0) return [];
    const field = rest.join(".");
    if (model.names.includes(field)) return [];
    return [
      {
        code: "unknownField" as const,
        message: `The model of ${quoted(thing)} has no field ${quoted(field)}.${hint(field, model.names)}`,
        place: output.place,
      },
    ];
  });
}

/** The commands that HTML has itself. */
const ofHtml = ["show-modal", "close", "request-close", "show-popover", "hide-popover", "toggle-popover"];

function judgeCommands(buttons: readonly ElementFacts[], { commands, steps }: BoundThings): Verdict[] {
  // What leads through steps is there without being asked for.
  const leading = [...(steps?.keys() ?? [])].flatMap((name) => stepCommandNames.map((what) => stepCommand(name, what)));
  const names = [...commands, ...leading];
  const asked = buttons.map((button) => ({ attribute: button.attribute("command") ?? "", place: button.place }));
  const verdicts: Verdict[] = alike(names);
  for (const { attribute, place } of asked) {
    const name = commandName(attribute);
    if (!attribute.startsWith("--")) {
      if (!ofHtml.includes(attribute.toLowerCase()))
        verdicts.push({
          code: "unknownCommand",
          message: `command=${quoted(attribute)} is no command of HTML. One of your own begins with two hyphens: command=${quoted(commandAttribute(attribute === "" ? "name" : attribute))}.`,
          place,
        });
    } else if (!names.includes(name))
      verdicts.push({
        code: "unknownCommand",
        message: `No command was given under the name ${quoted(name)} for command=${quoted(attribute)}.${hint(name, names)}`,
        place,
      });
  }
  const used = new Set(asked.map(({ attribute }) => commandName(attribute)));
  for (const name of names)
    if (!used.has(name) && !leading.includes(name))
      verdicts.push({
        code: "unusedCommand",
        message: `No button runs the command ${quoted(name)}. It would be command=${quoted(commandAttribute(name))}.`,
        place: "the page",
      });
  return verdicts;
}

function alike(names: readonly string[]): Verdict[] {
  const byAttribute = new Map<string, string>();
  return names.flatMap((name) => {
    const attribute = commandAttribute(name);
    const other = byAttribute.get(attribute);
    byAttribute.set(attribute, name);
    if (other === undefined) return [];
    return [
      {
        code: "commandsAlike" as const,
        message: `The commands ${quoted(other)} and ${quoted(name)} are both command=${quoted(attribute)}.`,
        place: "the page",
      },
    ];
  });
}

function hint(name: string, all: readonly string[]): string {
  // A form without a name has none to be told.
  const names = [...new Set(all)].filter((each) => each !== "");
  const nearest = nearestName(name, names);
  const list = names.length === 0 ? " There are none." : ` The names are: ${names.join(", ")}.`;
  return (nearest === undefined ? "" : ` Did you mean ${quoted(nearest)}?`) + list;
}
