import type { AnyModel, RowOf } from "../model/index.ts";
import { ndjsonLine, type Receipt, StoreError } from "../store/index.ts";

/** The part of the File System API that some browsers have and TypeScript does not know yet. */
interface FilePicker {
  showSaveFilePicker?(options: { suggestedName: string }): Promise<FileSystemFileHandle>;
}

/** A file that the person chooses. */
export interface PickedFile<Row> {
  /** Puts a row behind the others; the first time it asks where. Without a file picker, it gives a download instead. */
  append(row: Row): Promise<Receipt>;
}

/**
 * Saves rows as NDJSON in a file that the person picks, where the browser has a file picker; elsewhere each save is a
 * download of all rows so far. To be used from a press, since browsers only then let a page ask.
 *
 * @param name - the name that is proposed
 */
export function pickedFile<M extends AnyModel>(model: M, name: string): PickedFile<RowOf<M>> {
  let handle: FileSystemFileHandle | undefined;
  let soFar = "";
  return {
    async append(row) {
      const line = ndjsonLine(model, row);
      const picker = globalThis as FilePicker;
      if (picker.showSaveFilePicker === undefined) {
        download(name, soFar + line);
        soFar += line;
        return { place: name };
      }
      try {
        handle ??= await picker.showSaveFilePicker({ suggestedName: name });
        await appendTo(handle, line);
      } catch (cause) {
        if ((cause as Error).name === "AbortError") throw new StoreError("refused", "No file was chosen.", { cause });
        throw new StoreError(
          "refused",
          `The file ${handle?.name ?? name} can't be written: ${(cause as Error).message}`,
          { cause },
        );
      }
      return { place: handle.name };
    },
  };
}

async function appendTo(handle: FileSystemFileHandle, line: string): Promise<void> {
  const { size } = await handle.getFile();
  const file = await handle.createWritable({ keepExistingData: true });
  await file.seek(size);
  await file.write(line);
  // Only closing puts it in the file's place, whole.
  await file.close();
}

function download(name: string, text: string): void {
  const address = URL.createObjectURL(new Blob([text], { type: "application/x-ndjson" }));
  const link = document.createElement("a");
  link.href = address;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(address), 60_000);
}
