import { randomUUID } from "node:crypto";
import { open, readFile, rename, stat, unlink, writeFile } from "node:fs/promises";
import { hostname } from "node:os";
import { setTimeout as pause } from "node:timers/promises";
import type { AbortSignalLike } from "../engine/index.ts";
import { StoreError } from "../store/index.ts";

/** Who has the lock, and how large the file was then: what a lock file holds, as JSON. */
interface Owner {
  readonly process: number;
  readonly machine: string;
  readonly id: string;
  /** In bytes: what a process that is killed leaves behind that is not whole. */
  readonly size: number;
}

/** What was written to the file later than so many milliseconds after a lock was made is not its owner's. */
const WRITING_LASTS = 10_000;
/** So many milliseconds one waits for one owner before it is told that the file can't be had. */
const PATIENCE = 10_000;
/** A lock of another machine, whose processes can't be asked for, is taken over after so many milliseconds. */
const FOREIGN_LOCK_LASTS = 60_000;

/**
 * Does some work while no other process that asks for the same lock does any. The lock is a file beside the one that is meant,
 * with its owner's process and machine; it is taken over when its owner is gone.
 *
 * @param path - the file that the lock is for
 * @param work - is given how many bytes the file had when an owner began who is gone; `undefined` where there was none
 * @throws {@link StoreError} `unreachable` when one owner keeps it for ten seconds; the signal's reason
 */
export async function withFileLock<T>(
  path: string,
  work: (wholeUpTo: number | undefined) => Promise<T>,
  signal?: AbortSignalLike,
): Promise<T> {
  const lock = `${path}.lock`;
  const id = randomUUID();
  const wholeUpTo = await acquire(path, lock, id, signal);
  try {
    return await work(wholeUpTo);
  } finally {
    if ((await ownerOf(lock))?.id === id) await unlink(lock).catch(() => undefined);
  }
}

async function acquire(
  path: string,
  lock: string,
  id: string,
  signal: AbortSignalLike | undefined,
): Promise<number | undefined> {
  let since = Date.now();
  let last: string | undefined;
  for (;;) {
    if (signal?.aborted === true) throw signal.reason;
    if (await created(lock, () => ownerNow(path, id))) return undefined;
    if (await isLeftBehind(lock)) {
      const left = await takeOver(path, lock, id);
      if (left !== undefined) return left.wholeUpTo;
    } else {
      const owner = (await ownerOf(lock))?.id;
      // While the lock goes from one to the next, the file can be had: on a busy machine many may be in front.
      if (owner !== last) since = Date.now();
      else if (Date.now() - since > PATIENCE) throw occupied(path, lock);
      last = owner;
    }
    // Those who wait do not all ask at one moment.
    await pause(2 + Math.random() * 10);
  }
}

const occupied = (path: string, lock: string): StoreError =>
  new StoreError(
    "unreachable",
    `The file ${path} can't be written: another program is writing to it (its lock is ${lock}).`,
  );

async function ownerNow(path: string, id: string): Promise<string> {
  const size = (await stat(path).catch(() => undefined))?.size ?? 0;
  const owner: Owner = { process: process.pid, machine: hostname(), id, size };
  return JSON.stringify(owner);
}

/** Makes a file that is not there yet. @returns whether it was this call that made it */
async function created(path: string, text: () => Promise<string>): Promise<boolean> {
  try {
    const file = await open(path, "wx");
    try {
      await file.writeFile(await text());
    } catch (error) {
      await unlink(path);
      throw error;
    } finally {
      await file.close();
    }
    return true;
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === "EEXIST") return false;
    throw error;
  }
}

async function ownerOf(lock: string): Promise<Owner | undefined> {
  try {
    return JSON.parse(await readFile(lock, "utf8")) as Owner;
  } catch {
    return undefined;
  }
}

async function isLeftBehind(lock: string): Promise<boolean> {
  const age = Date.now() - ((await stat(lock).catch(() => undefined))?.mtimeMs ?? Infinity);
  const owner = await ownerOf(lock);
  // A lock with no owner in it was made this moment, or by a process that was killed in the same.
  if (owner?.machine !== hostname()) return age > (owner === undefined ? 2_000 : FOREIGN_LOCK_LASTS);
  try {
    process.kill(owner.process, 0);
    return false;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === "ESRCH";
  }
}

/**
 * Takes a lock that was left behind. Of several that find it, one does: else the second would take the lock that the first has since.
 *
 * @returns how many bytes the file had when the former owner began, unless others have changed the file since; `undefined` where
 *   another was first
 */
async function takeOver(
  path: string,
  lock: string,
  id: string,
): Promise<{ wholeUpTo: number | undefined } | undefined> {
  const guard = `${lock}.guard`;
  const mine = `${lock}.${id}`;
  if (!(await created(guard, () => Promise.resolve("")))) {
    const age = Date.now() - ((await stat(guard).catch(() => undefined))?.mtimeMs ?? Date.now());
    if (age > 2_000) await unlink(guard).catch(() => undefined);
    return undefined;
  }
  try {
    if (!(await isLeftBehind(lock))) return undefined;
    const left = await ownerOf(lock);
    const [file, before] = await Promise.all([path, lock].map((each) => stat(each).catch(() => undefined)));
    // A killed process that had not even written who it is wrote nothing else either; how large the file was then, it is still.
    const size = left?.size ?? file?.size ?? 0;
    const isOfOwner = (file?.mtimeMs ?? 0) <= (before?.mtimeMs ?? 0) + WRITING_LASTS;
    const owner: Owner = { process: process.pid, machine: hostname(), id, size };
    await writeFile(mine, JSON.stringify(owner));
    await rename(mine, lock);
    return { wholeUpTo: isOfOwner ? size : undefined };
  } finally {
    await unlink(guard).catch(() => undefined);
  }
}
