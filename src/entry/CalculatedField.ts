import type { internal } from "../engine/index.ts";
import type { AnyKind, Problem } from "../model/index.ts";
import type { CalculatedFieldState } from "./CalculatedFieldState.ts";

/** A value worked out from other fields. It can be read, shown and followed like any other, and not entered. */
export interface CalculatedField<V = unknown> {
  /** Its full name. */
  readonly name: string;
  /** Where it is in the row: a JSON Pointer (RFC 6901). */
  readonly pointer: string;
  /** What people call it. */
  readonly title: string;
  /** What its value is, where the model says. */
  readonly kind: AnyKind;
  /** The value as of now; `undefined` while something that it needs is missing or unreadable. */
  readonly value: V | undefined;
  /** The value in the entry's locale, in full and with no unit. */
  readonly text: string;
  /** The text to show it with: in its display format, with unit or caption. */
  readonly display: string;
  /** Whether it has no value. Reading it is followed. */
  readonly blank: boolean;
  /** Whether it matters now. Reading it is followed. */
  readonly relevant: boolean;
  /** Rules may be shown at a calculated field. */
  readonly problems: readonly Problem[];
  /** Those that a person is to see: after a save was tried. */
  readonly visibleProblems: readonly Problem[];
  /** The locale that it is shown in: a BCP 47 tag. */
  readonly locale: string;
  /** The zone by whose clock instants are shown, as an IANA name. */
  readonly timeZone: string;
  /** Never: nothing is asked about it. */
  readonly checking: false;
  /** Never: nobody types it. */
  readonly unreadable: false;
  /** Never: it follows what it reads. */
  readonly outOfDate: false;
  /** Never: it is not entered. */
  readonly changed: false;
  /** Never: it is not entered. */
  readonly required: false;
  /** Always. */
  readonly readOnly: true;
  readonly [internal]: CalculatedFieldState;
}
