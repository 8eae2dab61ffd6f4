import type { Change, internal } from "../engine/index.ts";
import type { Conflict } from "../merge/index.ts";
import type { AnyKind, Choice, Problem } from "../model/index.ts";
import type { FieldState } from "./FieldState.ts";

/** How a person changed a field: what followers are told as the cause (default: `typed`), and the control that was used. */
export type FieldDoing = Partial<Pick<Change, "cause" | "control">>;

/**
 * One value of an entry, with its text and its state. Everything that is read here is followed by
 * `follow()` and by what is bound.
 */
export interface Field<V = unknown> {
  /** The full name: `place.plot` in a group. */
  readonly name: string;
  /** Where it is in the row: a JSON Pointer (RFC 6901). */
  readonly pointer: string;
  /** What people call it. */
  readonly title: string;
  /** What its value is: type, constraints and options, as the model declares them. */
  readonly kind: AnyKind;
  /**
   * The value; blank while the text can't be read. Code can write any value of the right type.
   *
   * @throws `wrongType` for a value of another type
   */
  value: V;
  /** The text to edit it with: what was typed, else the value in the entry's locale, in full and with no unit. */
  readonly text: string;
  /** The text to show it with: in its display format with unit or caption; what can't be read, as it was typed. */
  readonly display: string;
  /** What can be chosen as of now, in order; `undefined` where anything can be entered. */
  readonly choices: readonly Choice[] | undefined;
  /** Whether there is no value: nothing was given, or what was typed can't be read. */
  readonly blank: boolean;
  /** Whether there is a text that can't be read. */
  readonly unreadable: boolean;
  /** Whether its value is what others propose, until somebody gives another. */
  readonly follows: boolean;
  /**
   * Whether it holds an answer (`entry.answer`) and something that this was worked out from is another now. What a person
   * or code gives instead is no answer and never out of date.
   */
  readonly outOfDate: boolean;
  /**
   * Whether it differs from what the entry began with or last saved; a text that can't be read always does, and what is
   * of the window only never.
   */
  readonly changed: boolean;
  /** Everything that is wrong with it, at once: text, then the kind's constraints, then rules. */
  readonly problems: readonly Problem[];
  /** Those that a person is to see: after the control was left changed, or a save was tried. */
  readonly visibleProblems: readonly Problem[];
  /** Whether a rule that asks elsewhere is being waited for, which is shown here. */
  readonly checking: boolean;
  /** Whether it matters now. Reading it is followed. */
  readonly relevant: boolean;
  /** Whether it has to be given now. Reading it is followed. */
  readonly required: boolean;
  /** Whether people may not change it. Code still can. */
  readonly readOnly: boolean;
  /** Why a person may not change it, in the words of the model; `undefined` where they may, or no reason was given. */
  readonly reason: string | undefined;
  /** The locale that its text is read and shown in: a BCP 47 tag. */
  readonly locale: string;
  /** The IANA name of the zone by whose clock instants are read and shown. */
  readonly timeZone: string;
  /**
   * What a person entered here, and what it was changed to elsewhere meanwhile: in its row where that is kept, or by code while the
   * person was typing. It is the problem `changedElsewhere`, to be seen at once, until {@link resolve}, {@link revert}, or
   * something else is entered. Not there where both came to the same.
   */
  readonly conflict: Conflict<V> | undefined;
  /**
   * Takes what a person typed, exactly as it is. What can be read sets the value; what can't leaves the value blank and
   * is a problem that says what is expected.
   *
   * @example card.fields.girth.enter("31,5");
   */
  enter(text: string, doing?: FieldDoing): void;
  /** Takes a value that a person chose, as {@link enter} takes a text. @throws `wrongType` for a value of another type */
  choose(value: V, doing?: FieldDoing): void;
  /**
   * To be called when a person leaves the control: its text is tidied, a blanked default comes back, and from now on the
   * problems of a changed field are visible.
   */
  leave(): void;
  /**
   * Ends a {@link conflict}: the field holds what was entered here (`mine`) or what it was changed to elsewhere (`theirs`), which
   * can be undone. Without a conflict it does nothing.
   */
  resolve(choice: "mine" | "theirs"): void;
  /** Goes back to what the entry began with or last saved: a field that followed others does so again. */
  revert(): void;
  readonly [internal]: FieldState;
}
