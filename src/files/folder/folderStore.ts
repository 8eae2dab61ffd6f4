import { RowChecker } from "../../check/index.ts";
import { IronwoodError, requireArgument, requireModel, requireOptions, unknownName } from "../../errors/index.ts";
import { type AnyModel, type FieldPathsOf, type KeyOf, type RowOf, showValue } from "../../model/index.ts";
import type { ChangeableStore } from "../../store/index.ts";
import { FolderPlace, type WhenExists } from "./FolderPlace.ts";
import type { NamePart } from "./recordName.ts";

/** Options of `folderStore`. */
export interface FolderStoreOptions<M> {
  /**
   * The fields whose shown text makes the file name: also calculated ones, and such as `place.plot` in a group. Dates and times are
   * as in JSON, `2026-11-28`, so that files stand in their order.
   */
  readonly fileName: readonly FieldPathsOf<M>[];
  /**
   * When a file of that name is there: refuse (the default), put a number behind the name, or replace it. What is replaced is the
   * record with the same fields of the name and no other, also where two names become one by leaving out what a file name can't hold.
   */
  readonly whenExists?: WhenExists | undefined;
  /** Who writes, or what says it, for fields with `given: "createdBy"` and `"changedBy"`. */
  readonly by?: string | (() => string) | undefined;
}

/**
 * A folder with one JSON file for each record, named from its fields. A file is there whole or not at all: it is written beside,
 * flushed, and then given its name. When the fields of its name are changed, the file is renamed. Several processes may write
 * to one folder: a lock in it keeps them apart, and a write of several records is done to its end, also where a process is killed.
 *
 * @throws `unknownField` for a name in `fileName` that is no field; `wrongOption`
 * @example const cards = folderStore("cards", treeCard, { fileName: ["tag", "species"] });
 */
export function folderStore<M extends AnyModel>(
  folder: string,
  model: M,
  options: FolderStoreOptions<M>,
): ChangeableStore<RowOf<M>, KeyOf<M>> {
  requireArgument(typeof folder === "string", "folderStore", folder, "a path");
  requireModel("folderStore", model);
  requireOptions("folderStore", options, {
    fileName: "list",
    whenExists: ["refuse", "number", "replace"],
    by: "textOrFunction",
  });
  const { whenExists = "refuse", by } = options;
  const names: readonly string[] = (options as Partial<FolderStoreOptions<M>>).fileName ?? [];
  for (const name of names)
    if (!model.names.includes(name))
      throw unknownName("unknownField", "The field", name, model.names, "fileName of folderStore");
  if (names.length === 0)
    throw new IronwoodError("wrongOption", "folderStore was given no fileName", {
      expected: "the names of one field or more",
    });
  const checker = new RowChecker(model, "en", "UTC");
  const textOf = (name: string, value: unknown): string => {
    const kind = model.kindOf(name);
    // Dates and times as they are kept, so that files stand in their order.
    const isTime = kind !== undefined && ["date", "time", "dateTime", "instant"].includes(kind.kind);
    return isTime && typeof value === "string" ? value : showValue(kind, value, "en", "UTC");
  };
  const partsOf = (row: RowOf<M>): NamePart[] =>
    names.map((name) => ({ title: model.titleOf(name), text: textOf(name, checker.valueOf(row, name)) }));
  return new FolderPlace(folder, model, partsOf, whenExists, by);
}
