import { open } from "node:fs/promises";
import type { AbortSignalLike } from "../engine/index.ts";
import { withFileLock } from "./fileLock.ts";

/**
 * Does some work under the lock of a file. A device or a pipe has no rows to be mixed, and no place for a lock beside it.
 *
 * @param work - is given how many bytes the file had when somebody began who was killed, and whether it is a file at all
 */
export async function locked<T>(
  path: string,
  work: (wholeUpTo: number | undefined, isFile: boolean) => Promise<T>,
  signal: AbortSignalLike | undefined,
): Promise<T> {
  const file = await open(path, "r").catch(() => undefined);
  const isFile = (await file?.stat())?.isFile() ?? true;
  await file?.close();
  return isFile ? withFileLock(path, (wholeUpTo) => work(wholeUpTo, true), signal) : work(undefined, false);
}
