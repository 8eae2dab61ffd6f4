import { type Change, untracked } from "../engine/index.ts";

/** What a change tells of a field: in which row it is. */
interface FieldInRow {
  readonly owner: { readonly rowNow: (() => unknown) | undefined };
}

/** What brought a change of one field about; which row that is in is looked up when somebody asks. */
export class FieldChange implements Change {
  constructor(
    readonly cause: Change["cause"],
    readonly field: FieldInRow,
    readonly control?: unknown,
  ) {}

  get row(): unknown {
    return untracked(() => this.field.owner.rowNow?.());
  }
}
