import type { DBSchema } from "idb";
import { BrowserDatabase } from "./database.ts";

type Permission = "granted" | "denied" | "prompt";

/** A file that a person has chosen. */
export interface PickedHandle extends FileSystemFileHandle {
  queryPermission?(options: { mode: "readwrite" }): Promise<Permission>;
  requestPermission?(options: { mode: "readwrite" }): Promise<Permission>;
}

/** Whether the page may go on with a file: the browser asks the person, where it has not yet. */
async function isAllowed(file: PickedHandle): Promise<boolean> {
  const mode = { mode: "readwrite" } as const;
  const now = (await file.queryPermission?.(mode)) ?? "granted";
  if (now !== "prompt") return now === "granted";
  // Only a press lets a page ask; without one it is as if nothing had been chosen.
  return (await file.requestPermission?.(mode).catch(() => "denied")) === "granted";
}

interface FilesSchema extends DBSchema {
  files: { key: string; value: PickedHandle };
}

/** What is remembered of a choice. */
export interface ChosenFile {
  /** The file that was chosen before, if the person lets the page go on with it. */
  goOn(): Promise<PickedHandle | undefined>;
  remember(file: PickedHandle | undefined): Promise<void>;
}

/** The file that was chosen under a name, remembered by this browser. Where it can remember nothing, it is asked for each time. */
export function chosenFile(name: string): ChosenFile {
  const files = new BrowserDatabase<FilesSchema>("ironwood files", name, (made) => {
    made.createObjectStore("files");
  });
  return {
    async goOn() {
      const before = await files.use((open) => open.get("files", name)).catch(() => undefined);
      return before !== undefined && (await isAllowed(before)) ? before : undefined;
    },
    remember: (file) =>
      files
        .use(async (open) => {
          await (file === undefined ? open.delete("files", name) : open.put("files", file, name));
        })
        .catch(() => undefined),
  };
}
