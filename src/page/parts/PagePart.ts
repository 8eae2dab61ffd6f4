import type { Stoppable } from "../../engine/index.ts";
import type { ViewState } from "../../table/index.ts";

/** The key of what only `bindPage` may call. */
export const partBinder = Symbol("part");

/** How something is shown in an element, and what of them beside. */
export interface PartBinder {
  /** Which call made it. */
  readonly call: string;
  /** What it shows, as the builder is told of it. */
  readonly what: "rows" | "kept rows" | "a draft";
  /** What else can be shown of it. */
  readonly names: readonly string[];
  /** The names of the elements that it can be shown in; blank for any. */
  readonly elements: readonly string[];
  bind(element: HTMLElement): Stoppable;
  /** Shows what is under a name of the rows, as `length`; `undefined` where there is no such name. */
  show(element: Element, name: string): Stoppable | undefined;
}

/** What a page shows under a name. Made by `asGrid`, `asList`, `asRows`, `asKept` and `asDraft`; for `bindPage`. */
export interface PagePart {
  readonly [partBinder]: PartBinder;
}

export const partIn = (thing: unknown): PartBinder | undefined =>
  typeof thing === "object" && thing !== null && partBinder in thing ? (thing as PagePart)[partBinder] : undefined;

/** What a page can show of a view beside its rows. */
export const viewNames = (view: ViewState): readonly string[] => [
  "search",
  "length",
  "selectedCount",
  ...view.table.model.names.map((name) => `total.${name}`),
];
