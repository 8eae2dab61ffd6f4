import { Command } from "../command/index.ts";
import type { BoundPart } from "../control/index.ts";
import { internal } from "../engine/index.ts";
import { type AnyFieldState, CalculatedFieldState, EntryState, FieldState, isSteps } from "../entry/index.ts";
import { isView } from "../table/index.ts";
import { type Explanation, explanation } from "./Explanation.ts";
import { shownValue } from "./shownValue.ts";

/** Everything that is bound in a page, by path, with what each form holds below it; and what is not as it should be, and why. */
export function explainPage(parts: readonly BoundPart[]): Explanation {
  const bound = parts.filter(({ kind }) => kind !== "page").map(explainPart);
  const wrong = parts.flatMap(({ verdicts = [] }) => verdicts);
  const count = bound.reduce((sum, { because }) => sum + 1 + because.length, 0);
  if (wrong.length === 0) return explanation("page", `${count} bound`, bound);
  const why = wrong.map(({ place, code, message }) => explanation(place, `${message} [${code}]`));
  return explanation("page", `${count} bound, ${why.length} not as it should be`, [
    ...bound,
    explanation("not as it should be", "", why),
  ]);
}

function explainPart(part: BoundPart): Explanation {
  const { kind, path, element, thing } = part;
  const what = path === "" ? "(no name)" : path;
  return explanation(what, inWords(kind, element, valueInWords(thing)), fieldsIn(part));
}

/** The fields of a form, each with what shows it; those that nothing shows are told as such. */
function fieldsIn({ path, thing, controls, resting, outputs }: BoundPart): readonly Explanation[] {
  const state: unknown = thing !== undefined && internal in thing ? thing[internal] : undefined;
  if (!(state instanceof EntryState) || controls === undefined) return [];
  const entry = state as EntryState;
  const shownBy = new Map<string, string[]>();
  const note = (name: string, kind: string, element: object): void => {
    shownBy.set(name, [...(shownBy.get(name) ?? []), inWords(kind, element)]);
  };
  for (const [name, element] of resting?.elements() ?? []) note(name, "control", element);
  for (const [name, all] of controls) for (const { elements } of all) note(name, "control", elements[0]!);
  for (const [element, { name }] of outputs ?? []) note(name, "output", element);
  const names: readonly string[] = entry.model.names;
  return names.map((name) =>
    explanation(
      [path, name].filter((part) => part !== "").join("."),
      [...(shownBy.get(name) ?? ["nothing in the form shows it"]), ofField(entry.core.field(name))].join("; "),
    ),
  );
}

const inWords = (kind: string, element: object, value = ""): string =>
  [kind, elementInWords(element), value].filter((word) => word !== "").join(", ");

/** An element as far as it is told here; other toolkits have others. */
interface ElementLike {
  readonly localName?: string;
  getAttribute?(name: string): string | null;
}

function elementInWords(element: ElementLike): string {
  // A form's own members may be hidden by controls of the same names.
  if (typeof element.localName !== "string" || typeof element.getAttribute !== "function") return "<form>";
  const [attribute] = ["name", "data-name", "command", "id"].flatMap((name) => {
    const value = element.getAttribute!(name);
    return value === null ? [] : [` ${name}=${JSON.stringify(value)}`];
  });
  return `<${element.localName}${attribute ?? ""}>`;
}

function valueInWords(thing: object | undefined): string {
  if (thing === undefined) return "an expression";
  if (thing instanceof Command) return thing.reason ?? "can run";
  if (isSteps(thing)) return `at ${thing.current}`;
  if (isView(thing)) return thing.length === 1 ? "1 row" : `${thing.length} rows`;
  const state: unknown = internal in thing ? thing[internal] : undefined;
  if (state instanceof FieldState || state instanceof CalculatedFieldState) return ofField(state as AnyFieldState);
  return state instanceof EntryState ? ofEntry(state as EntryState) : "";
}

function ofField(field: AnyFieldState): string {
  const words = [field.kind.kind, shownValue(field), field.relevant ? "" : "not relevant"];
  return words.filter((word) => word !== "").join(", ");
}

const ofEntry = ({ changed, model }: EntryState): string =>
  `${model.title ?? "an entry"}, ${changed ? "changed" : "not changed"}`;
