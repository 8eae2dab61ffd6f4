import { type AnyKind, BLANK, type Otherwise, runOverRow } from "../model/index.ts";

/** A value as a rule or calculation gets it: {@link BLANK} where its row type promises a value and there is none. */
export function asForRule(kind: AnyKind, value: unknown): unknown {
  const promised = kind.options.required === true || kind.options.default !== undefined;
  return promised && kind.isBlank(value) ? BLANK : value;
}

const notCalculated: Otherwise<unknown> = {
  blank: undefined,
  broken: undefined,
  code: "calculationFailed",
  what: "The calculation of",
};

/** Works a calculated value out. A division by a missing or zero measure has no value that could be shown or saved. */
export function workOut(work: (row: never) => unknown, reader: object, name: string): unknown {
  const value = runOverRow(work, reader, name, notCalculated);
  return value === null || (typeof value === "number" && !Number.isFinite(value)) ? undefined : value;
}
