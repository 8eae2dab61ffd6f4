import { getOrMake, type Stoppable, dispose } from "../engine/index.ts";

/** A control, or several that show one field together. */
interface BoundControl {
  readonly elements: readonly object[];
}

/** One thing of a page, or of another toolkit's window, that is bound; what a form holds is listed by its fields. */
export interface BoundPart {
  readonly kind: "form" | "output" | "command" | "steps" | "grid" | "list" | "rows" | "dialog" | "page";
  /** The name by which it is found; blank where it has none. */
  readonly path: string;
  readonly element: object;
  /** The entry, field, command, steps or view; `undefined` where it is an expression. */
  readonly thing: object | undefined;
  /** Of a form: its controls by the full names of their fields. */
  readonly controls?: ReadonlyMap<string, readonly BoundControl[]>;
  /** Of a form: its controls that rest, since no person has used them yet. */
  readonly resting?: { elements(): Iterable<readonly [name: string, element: object]> };
  /** Of a form: its outputs, each with the full name of its field. */
  readonly outputs?: ReadonlyMap<object, { readonly name: string }>;
  /** Of a page: what does not agree with what it is bound to. */
  readonly verdicts?: readonly { readonly place: string; readonly code: string; readonly message: string }[];
}

const known = new WeakMap<object, Set<BoundPart>>();

/** Lists what is bound under the window or page that it is in, for `explain(document)`. */
export function listUnder(root: object, part: BoundPart): Stoppable {
  const parts = getOrMake(known, root, () => new Set<BoundPart>());
  parts.add(part);
  const stop = (): void => void parts.delete(part);
  return { stop, [dispose]: stop };
}

/** What is bound in a window or page. */
export const boundIn = (root: object): readonly BoundPart[] => [...(known.get(root) ?? [])];
