import { RowChecker } from "../check/index.ts";
import { unknownName } from "../errors/index.ts";
import { type AnyModel, type RowOf, showValue } from "../model/index.ts";

/** A name in braces. */
const named = /\{([^{}]*)\}/g;

/**
 * Makes a function from a layout such as `{tag}: {species}`, which gives a row's line: each name in braces becomes the field as it is
 * shown, on one line. Braces that stand for themselves are doubled.
 *
 * @throws `unknownField`
 */
export function layoutOf<M extends AnyModel>(model: M, layout: string, locale: string): (row: RowOf<M>) => string {
  const names = [...model.names, ...model.parts.calculations.keys()];
  const pieces = layout.split(/(\{\{|\}\}|\{[^{}]*\})/);
  for (const piece of pieces)
    for (const [, name = ""] of piece.matchAll(named))
      if (!names.includes(name)) throw unknownName("unknownField", "The field", name, names, "line of fileStore");
  const checker = new RowChecker(model, locale, "UTC");
  const shown = (row: RowOf<M>, name: string): string =>
    showValue(model.kindOf(name), checker.valueOf(row, name), locale, "UTC").replaceAll(/\s*[\r\n]+\s*/g, " ");
  return (row) =>
    pieces
      .map((piece) =>
        piece === "{{" || piece === "}}" ? piece[0]! : piece.replaceAll(named, (_, name: string) => shown(row, name)),
      )
      .join("");
}
