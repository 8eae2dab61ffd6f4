import { readdirSync, statSync } from "node:fs";
import { basename, dirname, resolve } from "node:path";
import { createJiti } from "jiti";
import { nearestName } from "../errors/index.ts";
import type { AnyModel } from "../model/index.ts";
import { CallError } from "./CallError.ts";

/** What modules export that a page can be bound to, by the names of the exports. */
export interface LoadedThings {
  readonly models: Map<string, AnyModel>;
  readonly commands: string[];
  /** The names of the steps of forms in pages. */
  readonly steps: Map<string, readonly string[]>;
}

/** Refuses a path that leads to no file, and says which is near. */
export function requireFile(path: string): string {
  const full = resolve(path);
  try {
    if (statSync(full).isFile()) return full;
  } catch {
    const near = nearestName(basename(full), filesIn(dirname(full)));
    throw new CallError(`There is no file ${path}.${near === undefined ? "" : ` Did you mean ${near}?`}`);
  }
  throw new CallError(`${path} is a folder. Name a file in it.`);
}

function filesIn(folder: string): string[] {
  try {
    return readdirSync(folder);
  } catch {
    return [];
  }
}

/** Loads modules, in TypeScript or JavaScript, and finds the models, entries, commands and steps that they export. */
export async function loadThings(paths: readonly string[]): Promise<LoadedThings> {
  const things: LoadedThings = { models: new Map(), commands: [], steps: new Map() };
  for (const path of paths) {
    for (const [name, thing] of Object.entries(await loadModule(path))) {
      const model = modelOf(thing);
      if (model !== undefined) things.models.set(name, model);
      else if (isCommand(thing)) things.commands.push(name);
      else if (isSteps(thing)) things.steps.set(name, thing.names);
    }
  }
  if (things.models.size === 0) throw new CallError(`${paths.join(", ")} exports no model and no entry.`);
  return things;
}

export async function loadModule(path: string): Promise<Record<string, unknown>> {
  const full = requireFile(path);
  const exit = process.exit.bind(process);
  // A module that ends the program would end this one without a word.
  process.exit = (code) => {
    throw new Error(`it ends the program, by process.exit(${code ?? ""})`);
  };
  try {
    // Nothing is left in the temporary folder, and nothing that others may have put there is run.
    return await createJiti(import.meta.url, { fsCache: false, nativeModules: ["ironwood"] }).import(full);
  } catch (error) {
    const reason = error instanceof Error ? error.message : `it throws ${String(error)}`;
    throw new CallError(`${path} can't be loaded: ${reason}`);
  } finally {
    process.exit = exit;
  }
}

// The module may have been loaded with another copy of Ironwood than this one, so things are known by what they have.
function modelOf(thing: unknown): AnyModel | undefined {
  if (isModel(thing)) return thing;
  const model = (thing as { model?: unknown } | undefined)?.model;
  return isModel(model) ? model : undefined;
}

const isModel = (thing: unknown): thing is AnyModel =>
  typeof thing === "object" &&
  thing !== null &&
  "parts" in thing &&
  "names" in thing &&
  typeof (thing as AnyModel).kindOf === "function";

const isSteps = (thing: unknown): thing is { readonly names: readonly string[] } =>
  typeof thing === "object" && thing !== null && "names" in thing && "fieldsOf" in thing && "current" in thing;

const isCommand = (thing: unknown): boolean =>
  typeof thing === "object" &&
  thing !== null &&
  "reason" in thing &&
  "busy" in thing &&
  typeof (thing as { run?: unknown }).run === "function";
