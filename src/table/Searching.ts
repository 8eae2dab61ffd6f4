import { platform, Value, getOrMake } from "../engine/index.ts";
import { unknownName } from "../errors/index.ts";
import type { AnyKind, AnyModel } from "../model/index.ts";
import { SearchIndex, wordsOf } from "./SearchIndex.ts";
import type { TableState } from "./TableState.ts";

/** So many milliseconds at most without a pause. */
const AT_ONCE = 20;

/** What a search needs, of the texts in one language. */
interface InLanguage {
  readonly locale: string;
  readonly index: unknown;
}

const known = new WeakMap<object, Map<string, InLanguage>>();

/** Searches some fields of a table; views that search the same fields share what is made ready for it. */
export class Searching<M extends AnyModel> {
  readonly #names: readonly string[];
  /** How much is made ready, from 0 to 1, while that is under way. */
  readonly part = new Value<number | undefined>(undefined);

  readonly #table: TableState<M>;

  /** @throws `unknownField` with the nearest name */
  constructor(table: TableState<M>, names: readonly string[] | undefined) {
    this.#table = table;
    const { model } = table;
    for (const name of names ?? [])
      if (!model.names.includes(name)) throw unknownName("unknownField", "The field", name, model.names, "searchIn");
    const isText = ([, { kind }]: readonly [string, AnyKind]): boolean =>
      kind === "text" || kind === "oneOf" || kind === "someOf";
    this.#names = names ?? [...model.kinds].filter(isText).map(([name]) => name);
  }

  /** What finds the places of rows by the words of a text; `undefined` where it has none. */
  finder(search: string): ((slot: number) => boolean) | undefined {
    const words = wordsOf(search);
    if (words.length === 0) return undefined;
    const found = this.index.found(words);
    return (slot) => found.has(slot);
  }

  /** Makes ready what a search needs, a moment at a time. @returns whether it was wanted to the end */
  async ready(search: string, isWanted: () => boolean): Promise<boolean> {
    if (wordsOf(search).length === 0) return true;
    while (!this.index.prepare(platform.now() + AT_ONCE)) {
      this.part.write(this.index.part);
      await new Promise<void>((go) => void platform.after(0, go));
      // What took its place says how far it is.
      if (!isWanted()) return false;
    }
    return true;
  }

  get index(): SearchIndex<M> {
    const { locale } = this.#table;
    const ofTable = getOrMake(known, this.#table, () => new Map<string, InLanguage>());
    const key = JSON.stringify(this.#names);
    const before = ofTable.get(key);
    if (before?.locale === locale) return before.index as SearchIndex<M>;
    // The texts of another language are not searched any more.
    const index = new SearchIndex(this.#table, this.#names);
    ofTable.set(key, { locale, index });
    return index;
  }
}
