import { type FileHandle, open } from "node:fs/promises";

/**
 * Writes a text behind a file and flushes it to the disk before it returns. A last line that has no end, as a killed
 * process may leave it, is ended first, so that it spoils no other line.
 *
 * @param first - what an empty or new file begins with
 */
export async function appendLine(path: string, text: string, first = ""): Promise<void> {
  const file = await open(path, "a+");
  try {
    const { size } = await file.stat();
    const newline = size === 0 || (await endsWithNewline(file, size)) ? "" : "\n";
    const before = size === 0 ? first : newline;
    // One write, so that lines of several processes do not mix.
    await file.appendFile(before + text, "utf8");
    await file.datasync();
  } finally {
    await file.close();
  }
}

async function endsWithNewline(file: FileHandle, size: number): Promise<boolean> {
  const { buffer } = await file.read(Buffer.alloc(1), 0, 1, size - 1);
  return buffer[0] === 10;
}
