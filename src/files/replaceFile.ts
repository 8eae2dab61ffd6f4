import { open, rename, stat, unlink } from "node:fs/promises";
import { dirname } from "node:path";

/** The file beside another in which its next content is written. It is made under the lock of the other, so there is one at most. */
export const nextOf = (path: string): string => `${path}.new`;

/** Writes what a file is to hold beside it, onto the disk. @param pieces - its bytes or text, one after the other */
export async function writeBeside(path: string, pieces: Iterable<string | Uint8Array>): Promise<void> {
  const next = nextOf(path);
  const { mode } = (await stat(path).catch(() => undefined)) ?? {};
  try {
    const file = await open(next, "w", mode);
    try {
      for (const piece of pieces) await file.writeFile(piece);
      await file.sync();
    } finally {
      await file.close();
    }
  } catch (error) {
    await unlink(next).catch(() => undefined);
    throw error;
  }
}

/** Puts what was written beside a file in its place: who reads it has either all of the one or all of the other. */
export async function putInPlace(path: string): Promise<void> {
  try {
    await rename(nextOf(path), path);
  } catch (error) {
    await unlink(nextOf(path)).catch(() => undefined);
    throw error;
  }
  await flushFolder(dirname(path));
}

/** So that a name is on the disk too, where folders can be flushed. */
export async function flushFolder(folder: string): Promise<void> {
  const handle = await open(folder, "r").catch(() => undefined);
  await handle?.sync().catch(() => undefined);
  await handle?.close();
}
