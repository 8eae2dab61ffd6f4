import { getOrMake, type Stoppable } from "../engine/index.ts";

/** One thing of a page, or of another toolkit's window, and what it is bound to. */
export interface BoundThing {
  /** What binds: a form, a control, an output … */
  readonly kind: "form" | "control" | "output" | "command" | "steps" | "grid" | "list" | "rows" | "dialog";
  /** The name by which it is found, whole: `card.place.plot`. */
  readonly path: string;
  readonly element: object;
  /** The field, command, entry, steps or view; `undefined` where it is an expression. */
  readonly thing: object | undefined;
}

/** What was not bound, and why. */
export interface NotBound {
  readonly place: string;
  readonly code: string;
  readonly message: string;
}

/** What one binding tells of itself, as of now. */
export interface BindingListing {
  bound(): Iterable<BoundThing>;
  notBound(): readonly NotBound[];
}

const known = new WeakMap<object, Set<BindingListing>>();

/** Has a binding be listed under the window or page that it is in. */
export function listUnder(root: object, listing: BindingListing): Stoppable {
  const listings = getOrMake(known, root, () => new Set<BindingListing>());
  listings.add(listing);
  const stop = (): void => void listings.delete(listing);
  return { stop, [Symbol.dispose]: stop };
}

/** What is bound in a window or page; `undefined` where nothing ever was. */
export const listingsOf = (root: object): readonly BindingListing[] | undefined => {
  const listings = known.get(root);
  return listings && [...listings];
};
