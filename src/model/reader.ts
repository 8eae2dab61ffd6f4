import { unknownName } from "../errors/index.ts";
import type { AnyModel } from "./Model.ts";

/** What ends a rule or a calculation at the first read of a field that is required and missing, or unreadable. */
export const BLANK = Symbol("blank");

/** Gives the value of a field to a rule or a calculation. @throws {@link BLANK} when it has none */
export type ReadField = (name: string) => unknown;

const classes = new WeakMap<AnyModel, new (read: ReadField) => object>();

/**
 * The row as a rule sees it: reading a member reads the field, so that what a rule depends on is found out by running
 * it. A name that the model does not have is an error with the nearest name.
 */
export function newReader(model: AnyModel, read: ReadField): object {
  let Reader = classes.get(model);
  if (Reader === undefined) classes.set(model, (Reader = readerClass(model)));
  return new Reader(read);
}

function readerClass(model: AnyModel): new (read: ReadField) => object {
  class Reader {
    readonly #read: ReadField;
    constructor(read: ReadField) {
      this.#read = read;
    }
    static define(name: string): void {
      Object.defineProperty(Reader.prototype, name, {
        enumerable: true,
        get(this: Reader) {
          return this.#read(name);
        },
      });
    }
  }
  for (const name of model.names) Reader.define(name);
  const strict = new Proxy(Object.create(null) as object, {
    get(_, name) {
      if (typeof name === "symbol" || name === "toJSON" || name === "then") return undefined;
      throw unknownName(
        "unknownField",
        "A rule or calculation read a field that the model does not have:",
        name,
        model.names,
      );
    },
  });
  Object.setPrototypeOf(Reader.prototype, strict);
  return Reader;
}
