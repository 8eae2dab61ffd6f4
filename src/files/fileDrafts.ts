import { mkdir, readdir, readFile, unlink } from "node:fs/promises";
import { hostname } from "node:os";
import { join } from "node:path";
import { requireArgument } from "../errors/index.ts";
import { type Drafts, type StoredDraft, StoreError } from "../store/index.ts";
import { guarded } from "./failures.ts";
import { inTurn } from "./inTurn.ts";
import { putInPlace, writeBeside } from "./replaceFile.ts";

/** What the file of a draft holds. */
interface DraftFile {
  readonly name: string;
  readonly id: string;
  readonly process: number;
  readonly machine: string;
  readonly text: string;
}

/**
 * Drafts in a folder, a file of JSON for each. Those of a program that has ended are offered; one that still runs keeps its own.
 *
 * @example const draft = keepDraft(card, fileDrafts("drafts"), { name: "tree card" });
 */
export function fileDrafts(folder: string): Drafts {
  requireArgument(typeof folder === "string" && folder !== "", "fileDrafts", folder, "the path of a folder");
  /** Those that are worked on in this program. */
  const held = new Set<string>();
  const pathOf = (id: string): string => join(folder, `${id}.draft.json`);
  return {
    place: folder,
    list: (name) =>
      guarded(folder, "read", undefined, async () => {
        const found: StoredDraft[] = [];
        for (const file of await draftNames(folder)) {
          const draft = draftIn(await readFile(join(folder, file), "utf8").catch(() => ""));
          if (draft?.name !== name || held.has(draft.id) || isAlive(draft)) continue;
          found.push({ id: draft.id, text: draft.text });
        }
        return found;
      }),
    write(name, { id, text }) {
      if (!/^[\w-]+$/.test(id)) throw new StoreError("refused", `A draft can't be called ${id}.`);
      const path = pathOf(id);
      const file: DraftFile = { name, id, process: process.pid, machine: hostname(), text };
      return inTurn(path, () =>
        guarded(path, "written", undefined, async () => {
          await mkdir(folder, { recursive: true });
          await writeBeside(path, [JSON.stringify(file)]);
          await putInPlace(path);
        }),
      );
    },
    remove: (_, id) =>
      inTurn(pathOf(id), () =>
        guarded(pathOf(id), "written", undefined, () =>
          unlink(pathOf(id)).catch((error: unknown) => {
            if ((error as NodeJS.ErrnoException).code !== "ENOENT") throw error;
          }),
        ),
      ),
    hold(_, id, { signal }) {
      held.add(id);
      signal.addEventListener("abort", () => held.delete(id), { once: true });
      return Promise.resolve();
    },
  };
}

async function draftNames(folder: string): Promise<string[]> {
  try {
    return (await readdir(folder)).filter((name) => name.endsWith(".draft.json"));
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === "ENOENT") return [];
    throw error;
  }
}

function draftIn(text: string): DraftFile | undefined {
  try {
    const { name, id, text: content, ...owner } = JSON.parse(text) as DraftFile;
    return [name, id, content].every((each) => typeof each === "string")
      ? { name, id, text: content, ...owner }
      : undefined;
  } catch {
    return undefined;
  }
}

/** Whether the program that wrote a draft still runs: another one than this, on this machine. */
function isAlive({ process: owner, machine }: DraftFile): boolean {
  if (machine !== hostname() || owner === process.pid) return false;
  try {
    process.kill(owner, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code !== "ESRCH";
  }
}
