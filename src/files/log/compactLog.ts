import { readFile } from "node:fs/promises";
import type { AnyModel } from "../../model/index.ts";
import { isRemembered } from "../../store/changes/index.ts";
import { HIDDEN_KEY } from "../hiddenKey.ts";
import { putInPlace, writeBeside } from "../replaceFile.ts";
import { writtenLines } from "./logLine.ts";
import type { LinePlace } from "./logEvents.ts";
import type { LoggedRow, RowLog } from "./RowLog.ts";

/** What has fewer lines is left as it is. */
const WORTH_IT = 200;
/** A larger file is not taken into memory. In bytes. */
const LARGEST = 1 << 30;

/** Whether more than half of a log says what is no more so. */
export function isMostlyOld<M extends AnyModel>(log: RowLog<M>): boolean {
  if (log.lineCount < WORTH_IT || log.upTo > LARGEST || log.old <= log.rows.size) return false;
  const remembered = [...log.writes.values()].filter(isKept).length;
  return (log.old + log.writes.size - remembered) * 2 > log.lineCount - remembered;
}

const isKept = ({ at }: { readonly at: string }): boolean => isRemembered(Date.parse(at), Date.now());

/**
 * Writes a log anew with what holds now: each row as it stands, the lines that can't be read as they are, and which writes were done
 * lately. To be called under the lock of the file.
 */
export async function compactLog<M extends AnyModel>(path: string, model: M, log: RowLog<M>): Promise<void> {
  const bytes = await readFile(path);
  const textAt = ({ start, end }: LinePlace): Buffer => bytes.subarray(start, end);
  const newline = Buffer.from("\n");
  const pieces: Buffer[] = [];
  for (const head of log.writes.values())
    if (isKept(head)) pieces.push(Buffer.from(writtenLines({ ...head, deleted: [] }, [])));
  for (const place of log.others) pieces.push(textAt(place), newline);
  for (const row of log.rows.values())
    pieces.push(model.parts.key.length > 0 ? textAt(row) : withKey(textAt(row), row), newline);
  await writeBeside(path, [Buffer.concat(pieces)]);
  await putInPlace(path);
}

/** A row without a key of its own gets the one by which it was known until now. */
function withKey<M extends AnyModel>(text: Buffer, { key }: LoggedRow<M>): Buffer {
  const json = JSON.parse(text.toString("utf8")) as object;
  return HIDDEN_KEY in json ? text : Buffer.from(JSON.stringify({ ...json, [HIDDEN_KEY]: key }));
}
