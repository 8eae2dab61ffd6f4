import type { History, internal, Undone } from "../engine/index.ts";
import type {
  AnyModel,
  DeclaredNames,
  FieldValue,
  KindOf,
  Problem,
  ReadRowOf,
  RowOf,
  ValuesOf,
} from "../model/index.ts";
import type { EntryFields } from "./EntryFields.ts";
import type { EntryState } from "./EntryState.ts";
import type { SaveResult } from "./Saving.ts";

/** One row being filled in or edited, alive. Make one with `newEntry` or `editEntry`. */
export interface Entry<M extends AnyModel = AnyModel> {
  /** The model of its row. */
  readonly model: M;
  /** The values, for reading and writing; what is calculated is read only. An irrelevant field is blank here. */
  readonly values: ValuesOf<M>;
  /** Its fields by name; those of a group below the group's name. */
  readonly fields: EntryFields<M>;
  /** Everything that is wrong, in the order of the model. */
  readonly problems: readonly Problem[];
  /** Those that a person is to see. */
  readonly visibleProblems: readonly Problem[];
  /** Whether it could be saved: nothing is an error. Warnings do not count. */
  readonly valid: boolean;
  /** Whether anything differs from what it began with or last saved, or something is entered inside it that it does not have yet. */
  readonly changed: boolean;
  /** Whether a save is under way, or the checks before it are. */
  readonly busy: boolean;
  /** Whether a rule that asks elsewhere is being waited for. */
  readonly checking: boolean;
  /** Whether people may change nothing now. */
  readonly readOnly: boolean;
  /** Why they may not; `undefined` where they may, or no reason was given. */
  readonly reason: string | undefined;
  /** The locale that text is read and shown in. When it is set, values stand and unreadable texts are read again. */
  locale: string;
  /** The IANA name of the zone by whose clock instants are read and shown. */
  readonly timeZone: string;
  /** Where its changes are noted. */
  readonly history: History;
  /** The values that were changed, as a merge patch (RFC 7396): a blanked one is `null`. */
  changes(): Record<string, unknown>;
  /** The row as it would be saved now: what is irrelevant is blank, what is calculated or of the window is not in it. */
  row(): RowOf<M>;
  /**
   * Works an answer out from the fields as of now and puts it into a field, as a button does. Once something that it
   * read is another, `field.outOfDate` is true, and outputs say so.
   *
   * @returns the answer; `undefined` while something that it needs is missing or unreadable: the field is then blank
   * @throws `calculatedField` for a field that takes no answer
   * @example command({ run: () => void desk.answer("estimate", (t) => t.diameter * factors[t.species]) })
   */
  answer<N extends DeclaredNames<M>>(
    name: N,
    work: (row: ReadRowOf<M>) => FieldValue<KindOf<M, N>>,
  ): FieldValue<KindOf<M, N>> | undefined;
  /** Makes every problem visible and waits for the rules that ask elsewhere. @returns what is wrong */
  check(): Promise<readonly Problem[]>;
  /**
   * Gives blanked fields their defaults, checks everything and, when nothing is wrong, saves the row as it is at that
   * moment. While a save is under way, it gives that save's promise. An edited entry that was not changed writes nothing.
   *
   * @returns `{ ok: true, row, said }`, or `{ ok: false, problems }`; a failed write is the problem `notSaved`
   */
  save(): Promise<SaveResult<RowOf<M>>>;
  /** Takes the last change back: what was typed in one field, or what one command, transaction or revert did. */
  undo(): Undone;
  /** Brings again what was taken back last. */
  redo(): Undone;
  /** Goes back to what it began with or last saved, and hides problems. */
  revert(): void;
  /** Begins anew: blank, with defaults. What was here can be brought back by {@link undo}. */
  startNew(): void;
  /** Aborts a save and checks that are under way. */
  stop(): void;
  [Symbol.dispose](): void;
  // What the library does with any entry does not depend on its model.
  // eslint-disable-next-line @typescript-eslint/no-explicit-any
  readonly [internal]: EntryState<any>;
}

/** An entry of any model. */
// An entry's model goes into its save function and comes out of its row, so only `any` takes them all.
// eslint-disable-next-line @typescript-eslint/no-explicit-any
export type AnyEntry = Entry<any>;
