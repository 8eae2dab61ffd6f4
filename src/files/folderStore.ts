import { link, mkdir, open, readdir, readFile, rename, unlink } from "node:fs/promises";
import { basename, join } from "node:path";
import { randomUUID } from "node:crypto";
import type { AnyModel, NamesOf, RowOf } from "../model/index.ts";
import { readNdjsonLine, type Store, type StoredRow, StoreError, toJson } from "../store/index.ts";
import { storeError } from "./failures.ts";
import { recordName } from "./recordName.ts";

export interface FolderStoreOptions<M> {
  /** The fields whose shown text makes the file name. */
  readonly fileName: readonly NamesOf<M>[];
  /** When a file of that name is there: refuse (the default), put a number behind the name, or replace it. */
  readonly whenExists?: "refuse" | "number" | "replace" | undefined;
}

/**
 * A folder with one JSON file for each record, named from its fields. A file is there whole or not at all: it is
 * written beside, flushed, and then given its name.
 *
 * @example const cards = folderStore("cards", treeCard, { fileName: ["tag", "species"] });
 */
export function folderStore<M extends AnyModel>(
  folder: string,
  model: M,
  options: FolderStoreOptions<M>,
): Store<RowOf<M>> {
  const whenExists = options.whenExists ?? "refuse";
  return {
    place: basename(folder),
    async append(row) {
      const name = recordName(options.fileName.map((field) => partOf(model, row, field)));
      const text = `${JSON.stringify(toJson(model, row), null, 2)}\n`;
      try {
        await mkdir(folder, { recursive: true });
        return { place: await put(folder, name, text, whenExists) };
      } catch (error) {
        throw storeError(error, join(folder, `${name}.json`), "written");
      }
    },
    read: () => readFolder(folder, model),
  };
}

function partOf(model: AnyModel, row: unknown, field: string): { title: string; text: string } {
  const kind = model.kindOf(field);
  const value = (row as Record<string, unknown>)[field];
  return { title: model.titleOf(field), text: kind === undefined || value === undefined ? "" : kind.show(value, "en") };
}

async function put(
  folder: string,
  name: string,
  text: string,
  whenExists: "refuse" | "number" | "replace",
): Promise<string> {
  const temporary = join(folder, `.${randomUUID()}.tmp`);
  const file = await open(temporary, "wx");
  try {
    await file.writeFile(text, "utf8");
    await file.sync();
  } finally {
    await file.close();
  }
  try {
    return await giveName(temporary, folder, name, whenExists);
  } finally {
    await unlink(temporary).catch(() => undefined);
  }
}

async function giveName(
  temporary: string,
  folder: string,
  name: string,
  whenExists: "refuse" | "number" | "replace",
): Promise<string> {
  if (whenExists === "replace") {
    await rename(temporary, join(folder, `${name}.json`));
    return `${name}.json`;
  }
  for (let number = 1; ; number++) {
    const file = number === 1 ? `${name}.json` : `${name} (${number}).json`;
    try {
      // Unlike a rename, a link never takes the place of a file that is there.
      await link(temporary, join(folder, file));
      return file;
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== "EEXIST") throw error;
      if (whenExists === "refuse")
        throw new StoreError("refused", `The file ${file} is there already. Nothing was written over it.`, {
          cause: error,
        });
    }
  }
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
    yield { ...readNdjsonLine(model, text), line: 1 };
  }
}
