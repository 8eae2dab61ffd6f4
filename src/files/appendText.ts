import { type FileHandle, open } from "node:fs/promises";

/**
 * Writes a text behind a file in one piece and flushes it to the disk before it returns. When that fails, the file is as it was
 * before: no half line is left. To be called by one process at a time.
 *
 * @param textAfter - makes the text, once it is known with which byte the file ends; `undefined` for a file that has none
 * @returns how many bytes the file has now
 */
export async function appendText(path: string, textAfter: (lastByte: number | undefined) => string): Promise<number> {
  const file = await open(path, "a+");
  try {
    const { size } = await file.stat();
    const bytes = Buffer.from(textAfter(await lastByteOf(file, size)), "utf8");
    try {
      for (let done = 0; done < bytes.length;) done += (await file.write(bytes, done)).bytesWritten;
      await file.datasync();
    } catch (error) {
      await file.truncate(size).catch(() => undefined);
      throw error;
    }
    return size + bytes.length;
  } finally {
    await file.close();
  }
}

async function lastByteOf(file: FileHandle, size: number): Promise<number | undefined> {
  if (size === 0) return undefined;
  return (await file.read(Buffer.alloc(1), 0, 1, size - 1)).buffer[0];
}
