import { stat } from "node:fs/promises";
import { type AbortSignalLike, platform } from "../engine/index.ts";
import { StoreError } from "../store/index.ts";

/** So many milliseconds pass between two looks at a file: a look costs little, and works on every file system. */
const EVERY = 200;

/**
 * What a file is, by which it is seen that it was changed: where it lies on the disk, its size, and when it was written; a blank text
 * for none.
 */
export async function identityOf(path: string): Promise<string> {
  try {
    const { ino, size, mtimeNs } = await stat(path, { bigint: true });
    return `${ino}.${size}.${mtimeNs}`;
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === "ENOENT") return "";
    throw error;
  }
}

/** Looks now, soon, and whenever a while has passed, one look at a time, until it is aborted. A failure is no end of it. */
export function lookRegularly(look: () => Promise<void>, signal: AbortSignalLike): void {
  const ended = (): boolean => signal.aborted;
  let timer: unknown;
  const step = async (): Promise<void> => {
    try {
      await look();
    } catch (error) {
      // A place that can't be read now is told to who reads or writes; what is no failure of the place is one of the program.
      const isOfPlace = error instanceof StoreError || typeof (error as NodeJS.ErrnoException).code === "string";
      if (!isOfPlace) platform.report(error);
    }
    if (ended()) return;
    timer = platform.after(EVERY, () => void step());
    // A program that has nothing else to do may end.
    (timer as { unref?: () => void }).unref?.();
  };
  if (ended()) return;
  signal.addEventListener("abort", () => platform.cancel(timer), { once: true });
  void step();
}
