import { requireFields, requireNames } from "../../errors/index.ts";
import type { CompleteRow, Fields, InProgress } from "../types.ts";
import { checkOptions, type CommonOptions, type Kind, nothingFound } from "./kind.ts";

/** Options of {@link group}. */
export type GroupOptions = Pick<CommonOptions<never>, "title" | "description" | "readOnly">;

/** Fields that belong together under one name. */
export interface GroupKind<F extends Fields = Fields> extends Kind<
  CompleteRow<F, unknown, never>,
  InProgress<F, unknown>,
  true
> {
  readonly kind: "group";
  readonly fields: F;
  readonly group?: F;
}

/**
 * Fields under one name: `place.plot` on the page and in code, `/place/plot` in problems. It may stand in another group.
 *
 * @throws `refusedName`, `unknownOption`
 * @example model({ tag: text(), place: group({ bed: integer(), plot: text() }, { title: "Place" }) })
 */
export function group<F extends Fields>(fields: F, options: GroupOptions = {}): GroupKind<F> {
  requireFields("group", fields);
  requireNames("group()", fields);
  const kind: GroupKind = {
    kind: "group",
    fields,
    options,
    empty: {},
    expects: `an object with ${Object.keys(fields).join(", ")}`,
    missing: "valueMissing",
    isBlank: () => false,
    same: (a, b) => a === b,
    belongs: (value) => typeof value === "object" && value !== null && !Array.isArray(value),
    read: (text) => ({ ok: false, finding: { code: "badInput", message: "notAChoice", facts: { value: text } } }),
    edit: () => "",
    show: () => "",
    check: () => nothingFound,
  };
  checkOptions(kind, []);
  return kind as GroupKind<F>;
}
