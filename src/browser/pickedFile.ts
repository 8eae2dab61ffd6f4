import { requireArgument, requireModel } from "../errors/index.ts";
import { type AnyModel, type RowOf } from "../model/index.ts";
import { type Receipt, type StoredRow, StoreError, type StoreErrorKind } from "../store/index.ts";
import { ndjsonLine } from "../store/text/index.ts";
import type { ChosenFile, PickedHandle } from "./chosenFile.ts";

/** The part of the File System API that some browsers have and TypeScript does not know yet. */
interface FilePicker {
  showSaveFilePicker?(options: { suggestedName: string }): Promise<FileSystemFileHandle>;
}

/** A file that the person chooses. */
export interface PickedFile<Row> {
  /** What it is called: the name that is proposed, until a file is chosen. */
  readonly place: string;
  /**
   * Puts a row behind the others; the first time it asks where, and where the browser can remember that, goes on with the same file the
   * next time the page is open: the browser asks whether it may. Without a file picker, it gives a download instead, with the time in its
   * name: `place` of the receipt is the name that the browser was given.
   *
   * @throws {@link StoreError}
   */
  append(row: Row): Promise<Receipt>;
  /**
   * Reads the rows of the chosen file; without a file picker, and before a file was chosen, those that were put in so far.
   *
   * @throws {@link StoreError}
   */
  read(): AsyncIterable<StoredRow<Row>>;
  /** Forgets the chosen file: the next row asks where again. */
  forget(): Promise<void>;
}

/**
 * Saves rows as NDJSON in a file that the person picks, where the browser has a file picker; elsewhere each save is a
 * download of all rows so far. To be used from a press, since browsers only then let a page ask.
 *
 * @param name - the name that is proposed
 * @example const trees = pickedFile(treeCard, "trees.ndjson");
 */
export function pickedFile<M extends AnyModel>(model: M, name: string): PickedFile<RowOf<M>> {
  requireModel("pickedFile", model);
  requireArgument(typeof name === "string", "pickedFile", name, "the name that is proposed for the file");
  let handle: PickedHandle | undefined;
  // Pages without a file picker have nothing to remember.
  const chosen = (): Promise<ChosenFile> => import("./chosenFile.ts").then(({ chosenFile }) => chosenFile(name));
  /** The file that was chosen when the page was open before, if the person lets the page go on with it. */
  const goOn = async (): Promise<void> => {
    if (handle === undefined && "showSaveFilePicker" in globalThis) handle = await (await chosen()).goOn();
  };
  let soFar = "";
  let downloads = 0;
  return {
    get place() {
      return handle?.name ?? name;
    },
    async append(row) {
      const line = ndjsonLine(model, row);
      const picker = globalThis as FilePicker;
      if (picker.showSaveFilePicker === undefined) {
        downloads++;
        const called = nameOfDownload(name, downloads);
        download(called, soFar + line);
        soFar += line;
        return { place: called };
      }
      try {
        await goOn();
        if (handle === undefined) {
          handle = await picker.showSaveFilePicker({ suggestedName: name });
          await (await chosen()).remember(handle);
        }
        await appendTo(handle, line);
      } catch (cause) {
        const { name: kind } = cause as Error;
        if (kind === "AbortError") throw new StoreError("refused", "No file was chosen.", { cause });
        const failed = failure(handle?.name ?? name, "written", cause);
        // What is not there any more, or may not be written any more, is not asked for again.
        if (kind === "NotFoundError" || kind === "NotAllowedError") {
          handle = undefined;
          await (await chosen()).remember(undefined);
        }
        throw failed;
      }
      return { place: handle.name };
    },
    async *read() {
      // Most pages only write: what reads comes when it is needed.
      const { RowReader, textPieces } = await import("../store/text/reading.ts");
      await goOn();
      const reader = new RowReader(model, { format: "ndjson", locale: document.documentElement.lang || "en" });
      try {
        const source = handle === undefined ? soFar : new Uint8Array(await (await handle.getFile()).arrayBuffer());
        for await (const { text } of textPieces(source)) yield* reader.take(text);
        yield* reader.end();
      } catch (cause) {
        throw failure(handle?.name ?? name, "read", cause);
      }
    },
    async forget() {
      handle = undefined;
      await (await chosen()).remember(undefined);
    },
  };
}

/** What the browser says of a file, in words, and who can do something about it. */
const failures: Readonly<Record<string, readonly [kind: StoreErrorKind, reason: string]>> = {
  NotFoundError: ["refused", "it is not there any more. The next time you are asked where"],
  NotAllowedError: ["refused", "you have not let this page write to it. The next time you are asked where"],
  NoModificationAllowedError: ["unreachable", "another program holds it"],
  QuotaExceededError: ["full", "there is no room left"],
};

function failure(name: string, doing: "written" | "read", cause: unknown): StoreError {
  const { name: kind, message } = cause as Error;
  const [sort, reason] = failures[kind] ?? ["refused", message.replace(/\.$/, "")];
  return new StoreError(sort, `The file ${name} can't be ${doing}: ${reason}.`, { cause });
}

async function appendTo(handle: FileSystemFileHandle, line: string): Promise<void> {
  const { size } = await handle.getFile();
  const file = await handle.createWritable({ keepExistingData: true });
  await file.seek(size);
  await file.write(line);
  // Only closing puts it in the file's place, whole.
  await file.close();
}

/**
 * A name that no download had before: of two with one name a browser calls the second otherwise, and tells the page nothing. It has the
 * time on this machine (ISO 8601, basic format), and which save of this page it is.
 */
function nameOfDownload(name: string, number: number): string {
  const now = new Date();
  const local = new Date(now.getTime() - now.getTimezoneOffset() * 60_000).toISOString();
  const time = local.slice(0, 19).replaceAll(/[-:]/g, "");
  const dot = name.lastIndexOf(".");
  const [base, extension] = dot <= 0 ? [name, ""] : [name.slice(0, dot), name.slice(dot)];
  return `${base}-${time}-${number}${extension}`;
}

function download(name: string, text: string): void {
  const address = URL.createObjectURL(new Blob([text], { type: "application/x-ndjson" }));
  const link = document.createElement("a");
  link.href = address;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(address), 60_000);
}
