import { getOrMake } from "../engine/index.ts";
import { unknownName } from "../errors/index.ts";
import type { AnyModel } from "./Model.ts";

/** What ends a rule or a calculation at the first read of a field that is required and missing, or unreadable. */
export const BLANK = Symbol("blank");

/** Gives the value of a field to a rule or a calculation. @throws {@link BLANK} when it has none */
export type ReadField = (name: string) => unknown;

const classes = new WeakMap<AnyModel, Map<string, ReaderClass>>();

type ReaderClass = new (read: ReadField) => object;

/**
 * The row as a rule sees it: reading a member reads the field, so that what a rule depends on is found out by running
 * it. A name that the model does not have is an error with the nearest name.
 *
 * @param group - the full name of a group, for the reader of what is in it
 */
export function newReader(model: AnyModel, read: ReadField, group = ""): object {
  const ofModel = getOrMake(classes, model, () => new Map<string, ReaderClass>());
  const Reader = getOrMake(ofModel, group, () => readerClass(model, group));
  return new Reader(read);
}

function readerClass(model: AnyModel, group: string): ReaderClass {
  class Reader {
    readonly #read: ReadField;
    readonly #groups = new Map<string, object>();
    constructor(read: ReadField) {
      this.#read = read;
    }
    #groupOf(name: string): object {
      return getOrMake(this.#groups, name, () => newReader(model, this.#read, name));
    }
    static define(name: string, full: string): void {
      const isGroup = model.groups.has(full);
      Object.defineProperty(Reader.prototype, name, {
        enumerable: true,
        get(this: Reader) {
          return isGroup ? this.#groupOf(full) : this.#read(full);
        },
      });
    }
  }
  const before = group === "" ? "" : `${group}.`;
  for (const full of [...model.names, ...model.groups.keys()] as readonly string[]) {
    const name = full.slice(before.length);
    if (full.startsWith(before) && !name.includes(".")) Reader.define(name, full);
  }
  const strict = new Proxy(Object.create(null) as object, {
    get(_, name) {
      if (typeof name === "symbol" || name === "toJSON" || name === "then") return undefined;
      throw unknownName(
        "unknownField",
        "A rule or calculation read a field that the model does not have:",
        before + name,
        model.names,
      );
    },
  });
  Object.setPrototypeOf(Reader.prototype, strict);
  return Reader;
}
