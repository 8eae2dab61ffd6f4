import { sameValue } from "../../engine/index.ts";
import type { AnyModel, RowOf } from "../Model.ts";
import { valueIn } from "../nesting.ts";
import { say } from "../languages.ts";
import {
  type AnyKind,
  checkCount,
  checkOptions,
  type CommonOptions,
  type CountLimits,
  type Finding,
  type Kind,
  nothingFound,
  type Sure,
} from "./kind.ts";

export interface RowsOptions<Row> extends CommonOptions<readonly Row[]>, CountLimits {}

/**
 * Rows of another model inside a row, as the lines of an order. Blank is the empty list; `required` means at least one.
 *
 * @throws `unknownOption`, `wrongOption`
 * @example model({ number: integer(), lines: rows(orderLine) })
 */
export function rows<M extends AnyModel, const O extends RowsOptions<RowOf<M>>>(
  model: M,
  options?: O,
): Kind<readonly RowOf<M>[], readonly RowOf<M>[], Sure<O>> {
  type Rows = readonly RowOf<M>[];
  const given: RowsOptions<RowOf<M>> = options ?? {};
  const kind: Kind<Rows, Rows, Sure<O>> = {
    kind: "rows",
    options: given,
    empty: [],
    expects: `a list of rows${model.title === undefined ? "" : ` of "${model.title}"`}`,
    missing: "valueMissing",
    isBlank: (value) => value.length === 0,
    same: sameValue,
    belongs: (value) => Array.isArray(value) && value.every((row) => isRow(model, row)),
    read: (text) =>
      text.trim() === ""
        ? { ok: true, value: [] }
        : { ok: false, finding: { code: "badInput", message: "notAChoice", facts: { value: text } } },
    edit: (value) => String(value.length),
    show: (value, locale) => new Intl.NumberFormat(locale).format(value.length),
    check: (value, locale, timeZone) => checkRows(value, given, model, locale, timeZone),
  };
  checkOptions(kind, ["minItems", "maxItems"]);
  return kind;
}

function isRow(model: AnyModel, row: unknown): boolean {
  if (typeof row !== "object" || row === null || Array.isArray(row)) return false;
  return [...model.kinds].every(([name, kind]) => {
    const value = valueIn(row, name);
    return value === undefined || model.isCalculated(name) || kind.belongs(value);
  });
}

function checkRows(
  rows: readonly unknown[],
  limits: RowsOptions<unknown>,
  model: AnyModel,
  locale: string,
  timeZone?: string,
): readonly Finding[] {
  const found: Finding[] = [];
  rows.forEach((row, place) => {
    for (const [name, kind] of model.kinds)
      for (const finding of model.isCalculated(name) ? [] : checkMember(kind, valueIn(row, name), locale, timeZone))
        found.push({
          code: finding.code,
          message: "inRow",
          facts: {
            count: place + 1,
            title: model.titleOf(name),
            reason: say(locale, finding.message, finding.facts),
          },
          inside: `/${place}/${name.replaceAll(".", "/")}`,
        });
  });
  found.push(...checkCount(rows.length, limits));
  return found.length === 0 ? nothingFound : found;
}

function checkMember(kind: AnyKind, value: unknown, locale: string, timeZone?: string): readonly Finding[] {
  if (value !== undefined && value !== null && !kind.isBlank(value)) return kind.check(value, locale, timeZone);
  return kind.options.required === true ? [{ code: "valueMissing", message: kind.missing, facts: {} }] : nothingFound;
}
