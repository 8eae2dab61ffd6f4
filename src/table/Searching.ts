import { unknownName } from "../errors/index.ts";
import type { AnyKind, AnyModel, RowOf } from "../model/index.ts";
import type { Table } from "./Table.ts";

/** Text without case and accents. */
const fold = (text: string): string => text.normalize("NFD").replace(/\p{M}/gu, "").toLowerCase();

/** Finds rows by words in any order, in what people see of their fields. What was made ready of a row is kept with it. */
export class Searching<M extends AnyModel> {
  readonly #names: readonly string[];
  #ready = new WeakMap<object, string>();

  /** @throws `unknownField` with the nearest name */
  constructor(
    private readonly table: Table<M>,
    names: readonly string[] | undefined,
  ) {
    const { model } = table;
    for (const name of names ?? [])
      if (!model.names.includes(name)) throw unknownName("unknownField", "The field", name, model.names, "searchIn");
    const isText = ([, { kind }]: readonly [string, AnyKind]): boolean =>
      kind === "text" || kind === "oneOf" || kind === "someOf";
    this.#names = names ?? [...model.kinds].filter(isText).map(([name]) => name);
  }

  /** What finds rows by the words of a text; `undefined` where it has none. */
  finder(search: string): ((row: RowOf<M>) => boolean) | undefined {
    const words = fold(search)
      .split(/\s+/)
      .filter((word) => word !== "");
    if (words.length === 0) return undefined;
    return (row) => {
      const text = this.#readyText(row);
      return words.every((word) => text.includes(word));
    };
  }

  #readyText(row: RowOf<M>): string {
    let text = this.#ready.get(row);
    if (text === undefined) {
      // A sign that no text has keeps what is searched from reaching over two fields.
      text = fold(this.#names.map((name) => this.#shown(row, name)).join("\u0000"));
      this.#ready.set(row, text);
    }
    return text;
  }

  #shown(row: RowOf<M>, name: string): string {
    const value = this.table.valueOf(row, name);
    const kind = this.table.model.kindOf(name);
    if (value === undefined || kind === undefined) return String(value ?? "");
    return kind.isBlank(value) ? "" : kind.show(value, this.table.locale);
  }
}
