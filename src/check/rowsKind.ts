import { requireModel } from "../errors/index.ts";
import {
  type AnyModel,
  checkCount,
  checkOptions,
  optionsOf,
  type CommonOptions,
  type CountLimits,
  type Finding,
  type Kind,
  nameIn,
  nothingFound,
  type ProblemCode,
  readAs,
  type RowOf,
  sayOfValues,
  showWhole,
  type Sure,
  valueIn,
} from "../model/index.ts";
import { sameValue, getOrMake } from "../engine/index.ts";
import { RowChecker } from "./RowChecker.ts";

/** Options of `rows`. */
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
): Kind<readonly RowOf<M>[], readonly RowOf<M>[], Sure<O>> & { readonly rowModel: M } {
  type Rows = readonly RowOf<M>[];
  requireModel("rows", model);
  const given: RowsOptions<RowOf<M>> = optionsOf("rows", options as RowsOptions<RowOf<M>> | undefined);
  const checkers = new Map<string, RowChecker>();
  const checkerFor = (locale: string, timeZone: string): RowChecker => {
    const key = `${locale} ${timeZone}`;
    return getOrMake(checkers, key, () => new RowChecker(model, locale, timeZone));
  };
  const kind: Kind<Rows, Rows, Sure<O>> & { readonly rowModel: M } = {
    kind: "rows",
    rowModel: model,
    options: given,
    empty: [],
    expects: `a list of rows${model.title === undefined ? "" : ` of "${model.title}"`}`,
    say: sayOfValues,
    missing: "rowMissing",
    isBlank: (value) => value.length === 0,
    same: sameValue,
    belongs: (value) => Array.isArray(value) && value.every((row) => isRow(model, row)),
    read: (text) =>
      text.trim() === ""
        ? readAs([])
        : { ok: false, finding: { code: "badInput", message: "notAChoice", facts: { value: text } } },
    edit: (value) => String(value.length),
    show: (value, locale) => new Intl.NumberFormat(locale).format(value.length),
    showWhole: (value, locale, timeZone) => shownRows(value, model, locale, timeZone),
    check: (value, locale, timeZone = "UTC") => checkRows(value, given, model, checkerFor(locale, timeZone), locale),
  };
  checkOptions(kind, ["minItems", "maxItems"]);
  return kind;
}

/** So many rows are told, and of each what is entered in it. */
const MOST = 6;

function shownRows(rows: readonly object[], model: AnyModel, locale: string, timeZone: string): string {
  const shownIn = (row: object): string =>
    [...model.kinds]
      .filter(([name, kind]) => !model.isCalculated(name) && kind.options.writeOnly !== true)
      .map(([name, kind]) => showWhole(kind, valueIn(row, name), locale, timeZone))
      .filter((text) => text !== "")
      .join(" ");
  const shown = rows.slice(0, MOST).map(shownIn);
  return [...shown, ...(rows.length > MOST ? ["…"] : [])].join("; ");
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
  checker: RowChecker,
  locale: string,
): readonly Finding[] {
  const found: Finding[] = [];
  rows.forEach((row, place) => {
    for (const { code, message, pointer, severity } of checker.check(row)) {
      if (severity !== "error") continue;
      const title = pointer === "" ? (model.title ?? "") : model.titleOf(nameIn(pointer), locale);
      const inside = `/${place}${pointer}`;
      // A row's own rules come here with names of their own; they are told as what they say.
      found.push({
        code: code as ProblemCode,
        message: "inRow",
        facts: { count: place + 1, title, reason: message },
        inside,
      });
    }
  });
  found.push(...checkCount(rows.length, limits));
  return found.length === 0 ? nothingFound : found;
}
