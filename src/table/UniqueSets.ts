import { unknownName } from "../errors/index.ts";
import { type AnyModel, valueIn } from "../model/index.ts";
import { KeyIndex } from "./KeyIndex.ts";
import { textOf } from "./rowShape.ts";

/** A row that is like another in fields that no two rows may have alike. */
export interface Alike {
  /** The first of the fields: the problem is shown at it. */
  readonly name: string;
  /** What they have alike. */
  readonly value: string;
  /** The same for all rows that are alike in this. */
  readonly text: string;
}

/** The rows that are looked at. */
interface Rows {
  readonly model: AnyModel;
  rowAt(slot: number): unknown;
}

/** The fields, and sets of fields, that no two rows of a table may have alike, each with an index of what rows have. */
export class UniqueSets {
  readonly #sets: readonly { readonly names: readonly string[]; index: KeyIndex }[];
  readonly #table: Rows;

  /** @throws `unknownField` with the nearest name */
  constructor(table: Rows, given: readonly (string | readonly string[])[]) {
    this.#table = table;
    const known = [...table.model.kinds.keys()];
    for (const name of given.flat())
      if (!known.includes(name)) throw unknownName("unknownField", "The field", name, known, "unique");
    this.#sets = given.map((each) => {
      const names = typeof each === "string" ? [each] : each;
      return { names, index: this.#indexOf(names) };
    });
  }

  clear(): void {
    for (const set of this.#sets) set.index = this.#indexOf(set.names);
  }

  #indexOf(names: readonly string[]): KeyIndex {
    const { model } = this.#table;
    return new KeyIndex((slot) => textOf(model, this.#table.rowAt(slot), names));
  }

  add(row: unknown, slot: number): void {
    this.#each(row, (text, index) => index.add(text, slot));
  }

  remove(row: unknown, slot: number): void {
    this.#each(row, (text, index) => index.remove(text, slot));
  }

  /** In what a row is like another. */
  alike(row: unknown): readonly Alike[] {
    const alike: Alike[] = [];
    this.#each(row, (text, index, names) => {
      if (!index.isDouble(text)) return;
      const value = names.map((name) => String(valueIn(row, name))).join(", ");
      alike.push({ name: names[0]!, value, text: `${names.join(" ")} ${text}` });
    });
    return alike;
  }

  #each(row: unknown, work: (text: string, index: KeyIndex, names: readonly string[]) => void): void {
    for (const { names, index } of this.#sets) {
      const text = textOf(this.#table.model, row, names);
      if (text !== undefined) work(text, index, names);
    }
  }
}
