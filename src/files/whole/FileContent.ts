import type { AnyModel, KeyOf, Problem, RowOf } from "../../model/index.ts";
import type { KeyedRow } from "../../store/changes/index.ts";

/** A row of a file. */
export interface FileRow<M extends AnyModel> {
  readonly row: RowOf<M>;
  readonly line: number;
  /** The hidden key that it has in the file. */
  readonly hiddenKey: string | undefined;
}

/** What is to be changed of a file. */
export interface Edits<M extends AnyModel> {
  /** By the index of a row: what it is now; `undefined` for one that goes. */
  readonly changed: ReadonlyMap<number, KeyedRow<M> | undefined>;
  readonly added: readonly KeyedRow<M>[];
  /** The keys of all rows by their indexes, to be written where the model has none; else `undefined`. */
  readonly hiddenKeys: readonly KeyOf<M>[] | undefined;
}

/** What the text of a file holds. */
export interface FileContent<M extends AnyModel> {
  readonly rows: readonly FileRow<M>[];
  /** Lines and columns that can't be read. They stay as they are. */
  readonly others: readonly { readonly line: number; readonly problems: readonly Problem[] }[];
  /** The text after a change. What is not changed stays to the letter. */
  edit(edits: Edits<M>): string;
}

/** How rows are written as the text of a whole file. */
export interface FileFormat<M extends AnyModel> {
  /** @throws {@link StoreError} for a text that can't have rows put into it; `unknownField` */
  parse(text: string): FileContent<M>;
  /** Why a row can't be written so. */
  unfit(row: RowOf<M>): readonly Problem[];
}

/** A text with some of its parts replaced. @param parts - in order, none over another */
export function spliced(
  text: string,
  parts: readonly { readonly from: number; readonly to: number; readonly by: string }[],
): string {
  let done = 0;
  const pieces: string[] = [];
  for (const { from, to, by } of parts) {
    pieces.push(text.slice(done, from), by);
    done = to;
  }
  pieces.push(text.slice(done));
  return pieces.join("");
}

/** That something in a file is no part of its rows. */
export const strange = (message: string): Problem => ({ code: "badInput", message, severity: "error", pointer: "" });
