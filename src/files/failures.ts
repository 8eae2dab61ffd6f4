import type { AbortSignalLike } from "../engine/index.ts";
import { StoreError, type StoreErrorKind } from "../store/index.ts";

const reasons: Readonly<Record<string, readonly [kind: StoreErrorKind, reason: string]>> = {
  EACCES: ["refused", "you have no permission for it"],
  EPERM: ["refused", "you have no permission for it"],
  EROFS: ["refused", "the disk can only be read"],
  EISDIR: ["refused", "it is a folder"],
  ENOTDIR: ["refused", "a part of its path is not a folder"],
  ENOENT: ["refused", "its folder is not there"],
  ENOSPC: ["full", "the disk is full"],
  EFBIG: ["full", "it may not grow any larger"],
  EDQUOT: ["full", "your share of the disk is used up"],
  EBUSY: ["unreachable", "another program holds it"],
  EMFILE: ["unreachable", "too many files are open"],
};

/** What the file system said, in words for the person at the window, with what failed. */
export function storeError(error: unknown, path: string, doing: "written" | "read"): StoreError {
  if (error instanceof StoreError) return error;
  const code = (error as NodeJS.ErrnoException).code ?? "";
  const [kind, reason] = reasons[code] ?? ["unreachable", error instanceof Error ? error.message : String(error)];
  return new StoreError(kind, `The file ${path} can't be ${doing}: ${reason}.`, { cause: error });
}

/** Does some work with a file; what keeps it from being done is told in words. Who gave it up is told just that. */
export async function guarded<T>(
  path: string,
  doing: "written" | "read",
  signal: AbortSignalLike | undefined,
  work: () => Promise<T>,
): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (signal?.aborted === true && error === signal.reason) throw error;
    throw storeError(error, path, doing);
  }
}
