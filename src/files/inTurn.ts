import { resolve } from "node:path";

const last = new Map<string, Promise<unknown>>();

/** One piece of work at a time with one file, in the order in which the work was asked for, whichever store asks. */
export function inTurn<T>(path: string, work: () => Promise<T>): Promise<T> {
  const key = resolve(path);
  const next = (last.get(key) ?? Promise.resolve()).then(work, work);
  const done = next
    .catch(() => undefined)
    .then(() => {
      if (last.get(key) === done) last.delete(key);
    });
  last.set(key, done);
  return next;
}
