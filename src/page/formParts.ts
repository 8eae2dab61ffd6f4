import { getOrMake } from "../engine/index.ts";
import type { FieldState } from "../entry/index.ts";

/** What shows a field of an entry, and can have the focus: a control, or the rows inside the row. */
export interface FormPart {
  readonly field: FieldState;
  readonly elements: readonly HTMLElement[];
  readonly pointers: readonly string[];
  readonly id: string;
  /** What the page calls it; blank for the title of the field. */
  readonly label: string;
  focus(): void;
}

const shown = new WeakMap<object, Set<FormPart>>();

/** What shows fields of an entry beside the controls of its forms. */
export const partsOf = (owner: object): Set<FormPart> => getOrMake(shown, owner, () => new Set());
