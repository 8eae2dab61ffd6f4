import { link, mkdir, open, readdir, readFile, rename, unlink } from "node:fs/promises";
import { join } from "node:path";
import { randomUUID } from "node:crypto";
import { RowChecker } from "../check/index.ts";
import { IronwoodError, requireArgument, requireModel, requireOptions, unknownName } from "../errors/index.ts";
import { type AnyModel, type FieldPathsOf, type RowOf, showValue } from "../model/index.ts";
import { type Store, type StoredRow, StoreError } from "../store/index.ts";
import { fromJson, type RowReading, toJson } from "../store/text/index.ts";
import { storeError } from "./failures.ts";
import { inTurn } from "./inTurn.ts";
import { type NamePart, recordName } from "./recordName.ts";

/** Options of `folderStore`. */
export interface FolderStoreOptions<M> {
  /** The fields whose shown text makes the file name: also calculated ones, and such as `place.plot` in a group. */
  readonly fileName: readonly FieldPathsOf<M>[];
  /**
   * When a file of that name is there: refuse (the default), put a number behind the name, or replace it. What is replaced is the
   * record with the same fields of the name and no other, also where two names become one by leaving out what a file name can't hold.
   */
  readonly whenExists?: WhenExists | undefined;
}

type WhenExists = "refuse" | "number" | "replace";

/**
 * A folder with one JSON file for each record, named from its fields. A file is there whole or not at all: it is
 * written beside, flushed, and then given its name.
 *
 * @throws `unknownField` for a name in `fileName` that is no field; `wrongOption`
 * @example const cards = folderStore("cards", treeCard, { fileName: ["tag", "species"] });
 */
export function folderStore<M extends AnyModel>(
  folder: string,
  model: M,
  options: FolderStoreOptions<M>,
): Store<RowOf<M>> {
  requireArgument(typeof folder === "string", "folderStore", folder, "a path");
  requireModel("folderStore", model);
  requireOptions("folderStore", options, { fileName: "list", whenExists: ["refuse", "number", "replace"] });
  const { whenExists = "refuse" } = options;
  const names: readonly string[] = options.fileName;
  for (const name of names)
    if (!model.names.includes(name))
      throw unknownName("unknownField", "The field", name, model.names, "fileName of folderStore");
  if (names.length === 0)
    throw new IronwoodError("wrongOption", "folderStore was given no fileName", {
      expected: "the names of one field or more",
    });
  const checker = new RowChecker(model, "en", "UTC");
  const partsOf = (row: unknown): NamePart[] =>
    names.map((name) => ({
      title: model.titleOf(name),
      text: showValue(model.kindOf(name), checker.valueOf(row, name), "en", "UTC"),
    }));
  return {
    place: folder,
    async append(row) {
      const parts = partsOf(row);
      const name = recordName(parts);
      const text = `${JSON.stringify(toJson(model, row), null, 2)}\n`;
      const isSame = async (file: string): Promise<boolean> => {
        const there = readRecord(model, await readFile(join(folder, file), "utf8"));
        return there.ok && partsOf(there.row).every((part, index) => part.text === parts[index]!.text);
      };
      try {
        await mkdir(folder, { recursive: true });
        // One after the other: what is replaced is looked at first.
        return await inTurn(join(folder, name), () => put(folder, name, text, whenExists, isSame));
      } catch (error) {
        throw storeError(error, join(folder, `${name}.json`), "written");
      }
    },
    read: () => readFolder(folder, model),
  };
}

async function put(
  folder: string,
  name: string,
  text: string,
  whenExists: WhenExists,
  isSame: (file: string) => Promise<boolean>,
): Promise<{ place: string }> {
  const temporary = join(folder, `.${randomUUID()}.tmp`);
  const file = await open(temporary, "wx");
  try {
    await file.writeFile(text, "utf8");
    await file.sync();
  } finally {
    await file.close();
  }
  try {
    return { place: join(folder, await giveName(temporary, folder, name, whenExists, isSame)) };
  } finally {
    await unlink(temporary).catch(() => undefined);
  }
}

async function giveName(
  temporary: string,
  folder: string,
  name: string,
  whenExists: WhenExists,
  isSame: (file: string) => Promise<boolean>,
): Promise<string> {
  for (let number = 1; ; number++) {
    const file = number === 1 ? `${name}.json` : `${name} (${number}).json`;
    try {
      // Unlike a rename, a link never takes the place of a file that is there.
      await link(temporary, join(folder, file));
      return file;
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== "EEXIST") throw error;
      if (whenExists === "number") continue;
      if (whenExists === "replace" && (await isSame(file))) {
        await rename(temporary, join(folder, file));
        return file;
      }
      const what = whenExists === "replace" ? "is there already and holds another record" : "is there already";
      throw new StoreError("refused", `The file ${file} ${what}. Nothing was written over it.`, { cause: error });
    }
  }
}

/** The record of a file, or why it can't be read. */
function readRecord<M extends AnyModel>(model: M, text: string): RowReading<RowOf<M>> {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    const message = `This file is not JSON: ${(error as Error).message}.`;
    return { ok: false, problems: [{ code: "badInput", message, severity: "error", pointer: "" }] };
  }
  return fromJson(model, json);
}

async function* readFolder<M extends AnyModel>(folder: string, model: M): AsyncIterable<StoredRow<RowOf<M>>> {
  let names: string[];
  try {
    names = (await readdir(folder)).filter((name) => name.endsWith(".json") && !name.startsWith(".")).sort();
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === "ENOENT") return;
    throw storeError(error, folder, "read");
  }
  for (const name of names) {
    let text: string;
    try {
      text = await readFile(join(folder, name), "utf8");
    } catch (error) {
      throw storeError(error, join(folder, name), "read");
    }
    yield { ...readRecord(model, text), line: 1 };
  }
}
