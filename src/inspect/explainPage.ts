import { Command } from "../command/index.ts";
import type { BindingListing, BoundThing } from "../control/index.ts";
import { internal } from "../engine/index.ts";
import { type AnyFieldState, CalculatedFieldState, EntryState, FieldState, Steps } from "../entry/index.ts";
import { isView } from "../table/index.ts";
import { type Explanation, explanation } from "./Explanation.ts";
import { shownValue } from "./shownValue.ts";

/** Everything that is bound in a page, by path, and what is not and why. */
export function explainPage(listings: readonly BindingListing[]): Explanation {
  const bound = listings.flatMap((listing) => [...listing.bound()]);
  const notBound = listings.flatMap((listing) => listing.notBound());
  const parts = bound.map((each) => explanation(each.path, inWords(each)));
  const problems = notBound.map(({ place, code, message }) => explanation(place, `${message} [${code}]`));
  const count = `${bound.length} bound`;
  return explanation("page", problems.length === 0 ? count : `${count}, ${problems.length} not as it should be`, [
    ...parts,
    ...(problems.length === 0 ? [] : [explanation("not as it should be", "", problems)]),
  ]);
}

function inWords({ kind, element, thing }: BoundThing): string {
  const words = [kind, elementInWords(element), valueInWords(thing)];
  return words.filter((word) => word !== "").join(", ");
}

/** An element as far as it is told here; other toolkits have others. */
interface ElementLike {
  readonly localName?: string;
  getAttribute?(name: string): string | null;
}

function elementInWords(element: ElementLike): string {
  if (element.localName === undefined) return "";
  const named = ["id", "name", "data-name", "command"].flatMap((name) => {
    const value = element.getAttribute?.(name) ?? null;
    return value === null ? [] : [`${name}=${JSON.stringify(value)}`];
  });
  return `<${[element.localName, ...named.slice(0, 1)].join(" ")}>`;
}

function valueInWords(thing: object | undefined): string {
  if (thing === undefined) return "";
  if (thing instanceof Command) return thing.reason ?? "can run";
  if (thing instanceof Steps) return `at ${thing.current}`;
  if (isView(thing)) return thing.length === 1 ? "1 row" : `${thing.length} rows`;
  const state: unknown = internal in thing ? thing[internal] : undefined;
  if (state instanceof FieldState || state instanceof CalculatedFieldState) return ofField(state as AnyFieldState);
  if (state instanceof EntryState) return ofEntry(state as EntryState);
  return "";
}

function ofField(field: AnyFieldState): string {
  const hidden = field.relevant ? "" : ", not relevant";
  return `${field.kind.kind}, ${shownValue(field)}${hidden}`;
}

function ofEntry({ changed, model }: EntryState): string {
  return [model.title ?? "an entry", changed ? "changed" : "not changed"].join(", ");
}
