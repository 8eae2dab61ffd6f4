import { open } from "node:fs/promises";
import { StoreError } from "../store/index.ts";

/** Whether bytes begin as text in UTF-16 does that has a byte order mark. */
export const beginsUtf16 = (bytes: Uint8Array): boolean =>
  (bytes[0] === 0xff && bytes[1] === 0xfe) || (bytes[0] === 0xfe && bytes[1] === 0xff);

/** Whether a file is in UTF-16; one that is not there is not. */
export async function isUtf16(path: string): Promise<boolean> {
  const file = await open(path, "r").catch((error: unknown) => {
    if ((error as NodeJS.ErrnoException).code === "ENOENT") return undefined;
    throw error;
  });
  if (file === undefined) return false;
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(2), 0, 2, 0);
    return bytesRead === 2 && beginsUtf16(buffer);
  } finally {
    await file.close();
  }
}

export const inUtf16 = (path: string): StoreError =>
  new StoreError("refused", `The file ${path} can't be written: it is in UTF-16, and rows are written in UTF-8.`);
