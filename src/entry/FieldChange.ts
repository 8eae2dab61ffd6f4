import { type Change, untracked } from "../engine/index.ts";
import type { Field } from "./Field.ts";

/** What brought a change of one field about; which row that is in is looked up when somebody asks. */
export class FieldChange implements Change {
  constructor(
    readonly cause: Change["cause"],
    readonly field: Field,
    readonly control?: unknown,
  ) {}

  get row(): unknown {
    return untracked(() => this.field.core.rowNow?.());
  }
}
