import type { History, internal, Signal, Undone } from "../engine/index.ts";
import type {
  AnyModel,
  DeclaredNames,
  FieldValue,
  GivenOf,
  KindOf,
  NamesOf,
  Problem,
  ReadRowOf,
  RowOf,
  ValuesOf,
} from "../model/index.ts";
import type { CalculatedField } from "./CalculatedField.ts";
import type { EntryState } from "./EntryState.ts";
import type { Field } from "./Field.ts";
import type { GroupFields } from "./GroupFields.ts";
import type { SaveAnswer } from "./saveMessages.ts";
import type { SaveResult } from "./Saving.ts";

export interface EntryOptions<M> {
  /** Values to begin with; they are not changes. */
  readonly values?: GivenOf<M> | undefined;
  /**
   * Puts a row where rows are kept. It is called when all checks hold. What it returns is told in the status line, or
   * shown at the fields where it refuses the row; what it throws is told as the reason why nothing was saved. Everything
   * typed stays.
   */
  readonly save?: ((row: RowOf<M>, context: { signal: Signal }) => SaveAnswer | Promise<SaveAnswer>) | undefined;
  /** A BCP 47 tag; default: the page's `lang` once it is bound, else the runtime's. */
  readonly locale?: string | undefined;
  /** An IANA name, as `Europe/Berlin`: by whose clock instants are read and shown; default: the runtime's. */
  readonly timeZone?: string | undefined;
  /** Where changes are noted to be undone; default: one of its own. Entries with the same one are undone in one order. */
  readonly history?: History | undefined;
  /** Whether people may only look now, or why: it is followed. Code can change everything all the same. */
  readonly readOnly?: (() => boolean | string) | undefined;
  /** What follows a save: the entry stays as it is (the default), or a blank one begins. */
  readonly afterSave?: "stay" | "startNew" | undefined;
}

/** An entry's fields by name: those that can be entered, and those that are calculated. Of any entry nothing is known. */
// eslint-disable-next-line @typescript-eslint/no-explicit-any
export type EntryFields<M> = 0 extends 1 & M ? any : FieldsByName<M>;

type FieldsByName<M> = {
  readonly [N in DeclaredNames<M>]: FieldOf<KindOf<M, N>>;
} & {
  readonly [N in Exclude<NamesOf<M>, DeclaredNames<M>>]: CalculatedField<
    NonNullable<ValuesOf<M>[N & keyof ValuesOf<M>]>
  >;
};

/** A field of a kind, or the fields of a group. */
type FieldOf<K> = K extends { readonly kind: "group"; readonly group?: infer G extends object }
  ? GroupFields<{ readonly [N in keyof G]: FieldOf<G[N]> }>
  : Field<FieldValue<K>>;

/** One row being filled in or edited, alive. Make one with `newEntry` or `editEntry`. */
export interface Entry<M extends AnyModel = AnyModel> {
  readonly model: M;
  /** The values, for reading and writing; what is calculated is read only. An irrelevant field is blank here. */
  readonly values: ValuesOf<M>;
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
