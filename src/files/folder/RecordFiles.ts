import { readdir, readFile } from "node:fs/promises";
import { join } from "node:path";
import type { AnyModel, KeyOf, Problem, RowOf } from "../../model/index.ts";
import { fromJson, toJson } from "../../store/text/index.ts";
import { keyIn, type LookUp, lookUpOf } from "../../table/index.ts";
import { storeError } from "../failures.ts";
import { identityOf } from "../polling.ts";
import { digestOf, versionOfRow } from "../rowVersion.ts";
import { HIDDEN_KEY } from "../hiddenKey.ts";

/** A record, or what is wrong with its file. */
export type RecordFile<M extends AnyModel> = { readonly name: string; readonly identity: string } & (
  | { readonly ok: true; readonly key: KeyOf<M>; readonly version: string; readonly row: RowOf<M> }
  | { readonly ok: false; readonly problems: readonly Problem[] }
);

/** The records of a folder, a file each. A file that was not changed is not read again. */
export class RecordFiles<M extends AnyModel> {
  /** By the names of the files, in the order of these. */
  files: readonly RecordFile<M>[] = [];
  /** The files of keys: of two, the first. */
  byKey: ReadonlyMap<LookUp, RecordFile<M> & { readonly ok: true }> = new Map();
  /** What the folder is, by which it is seen that a file was changed. */
  identity = "";
  readonly #folder: string;
  readonly #model: M;

  constructor(folder: string, model: M) {
    this.#folder = folder;
    this.#model = model;
  }

  /** Reads what was changed since. @throws {@link StoreError} */
  async catchUp(): Promise<void> {
    const names = await recordNames(this.#folder);
    const before = new Map(this.files.map((file) => [file.name, file]));
    const files: RecordFile<M>[] = [];
    for (const name of names) {
      const identity = await identityOf(join(this.#folder, name));
      // It may be gone by now.
      if (identity === "") continue;
      const known = before.get(name);
      files.push(known?.identity === identity ? known : await this.#read(name, identity));
    }
    const byKey = new Map<LookUp, RecordFile<M> & { readonly ok: true }>();
    for (const file of files) if (file.ok && !byKey.has(lookUpOf(file.key))) byKey.set(lookUpOf(file.key), file);
    this.files = files;
    this.byKey = byKey;
    this.identity = identityFrom(files);
  }

  async #read(name: string, identity: string): Promise<RecordFile<M>> {
    const path = join(this.#folder, name);
    let text: string;
    try {
      text = await readFile(path, "utf8");
    } catch (error) {
      throw storeError(error, path, "read");
    }
    const model = this.#model;
    const bad = (problems: readonly Problem[]): RecordFile<M> => ({ ok: false, name, identity, problems });
    let json: unknown;
    try {
      json = JSON.parse(text);
    } catch (error) {
      const message = `${name} is not JSON: ${(error as Error).message}.`;
      return bad([{ code: "badInput", message, severity: "error", pointer: "" }]);
    }
    const { [HIDDEN_KEY]: hidden, ...own } = (json ?? {}) as Record<string, unknown>;
    const isPlain = typeof json !== "object" || Array.isArray(json);
    const reading = fromJson(model, isPlain ? json : own);
    if (!reading.ok) return bad(reading.problems.map((each) => ({ ...each, message: `${name}: ${each.message}` })));
    const { row } = reading;
    // A record without a key is known by the name of its file.
    const key = model.parts.key.length > 0 ? keyIn(model, row) : (hidden ?? name);
    return { ok: true, name, identity, key: key as KeyOf<M>, version: versionOfRow(model, row), row };
  }
}

/** The files that hold records. */
async function recordNames(folder: string): Promise<string[]> {
  try {
    return (await readdir(folder)).filter((name) => name.endsWith(".json") && !name.startsWith(".")).sort();
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === "ENOENT") return [];
    throw storeError(error, folder, "read");
  }
}

const identityFrom = (files: readonly { readonly name: string; readonly identity: string }[]): string =>
  digestOf(files.map(({ name, identity }) => `${name}/${identity}`).join("\n"));

/** What a folder is, without reading its files. */
export async function folderIdentity(folder: string): Promise<string> {
  const files: { name: string; identity: string }[] = [];
  for (const name of await recordNames(folder)) {
    const identity = await identityOf(join(folder, name));
    if (identity !== "") files.push({ name, identity });
  }
  return identityFrom(files);
}

/** A record as the text of its file. @param key - where the model has none */
export function recordText<M extends AnyModel>(model: M, row: RowOf<M>, key?: KeyOf<M>): string {
  const json = toJson(model, row);
  const whole = model.parts.key.length > 0 || key === undefined ? json : { ...json, [HIDDEN_KEY]: key };
  return `${JSON.stringify(whole, null, 2)}\n`;
}
