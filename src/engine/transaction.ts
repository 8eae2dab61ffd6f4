import { IronwoodError, requireArgument } from "../errors/index.ts";
import { tracker } from "./graph.ts";
import { enter, forget, journalMark, level, rollback } from "./journal.ts";
import { beginUnit, runPasses } from "./passes.ts";
import { isPromise } from "./soon.ts";

/** What a transaction came to. `P` is what a refusal says, for rows a `Problem`. */
export type TransactionResult<T, P> =
  { readonly ok: true; readonly value: T } | { readonly ok: false; readonly problems: readonly P[] };

/** A transaction's function must not return a promise; the compiler says so in the type of the argument. */
export type NotAPromise<T> =
  T extends PromiseLike<unknown> ? "A transaction's function must not be async: await first, then write." : T;

interface Level {
  readonly refusals: unknown[];
  readonly checks: (() => readonly unknown[])[];
}

const levels: Level[] = [];

/**
 * Several changes as one: followers see only the end, and reads inside see the writes so far. An exception takes everything back, and
 * where a transaction around this one catches it, only this one's part. A refusal takes the whole back, transactions around it too.
 *
 * @param work - does the writes; not async
 * @returns `{ ok: true, value }` with what `work` returned, or `{ ok: false, problems }` when something in it was refused
 * @throws what `work` throws, after everything is back as it was; `asyncTransaction` when it returns a promise
 * @example
 * const moved = transaction(() => { stock.delete("AB-0042"); order.insert(tree); return 1; });
 */
export function transaction<T, P = unknown>(work: () => T & NotAPromise<T>): TransactionResult<T, P> {
  requireArgument(typeof work === "function", "transaction", work, "a function that does the writes");
  if (tracker !== undefined)
    throw new IronwoodError("writeWhileCalculating", "A transaction was begun while something was being calculated");
  const start = journalMark();
  const own: Level = { refusals: [], checks: [] };
  if (level === 0) beginUnit();
  levels.push(own);
  enter(1);
  try {
    const value = work();
    if (isPromise(value))
      throw new IronwoodError("asyncTransaction", "A transaction's function returned a promise", {
        expected: "a function that awaits nothing: await first, then do the writes in one transaction",
      });
    const problems = close(own) as P[];
    if (problems.length === 0) return { ok: true, value };
    rollback(start);
    // What is refused anywhere inside fails the whole, whoever has looked at it in between.
    levels.at(-2)?.refusals.push(...problems);
    return { ok: false, problems };
  } catch (error) {
    rollback(start);
    throw error;
  } finally {
    levels.pop();
    enter(-1);
    if (level === 0) {
      forget();
      runPasses();
    }
  }
}

/** Says that something inside the running transaction was refused: all of it will be taken back when it ends. */
export function refuse(problem: unknown): void {
  const inner = levels.at(-1);
  inner?.refusals.push(problem);
}

/** Has `check` run at the end of the outermost transaction; what it returns are refusals. */
export function atEnd(check: () => readonly unknown[]): void {
  const outer = levels[0];
  outer?.checks.push(check);
}

function close({ refusals, checks }: Level): unknown[] {
  for (const check of checks) refusals.push(...check());
  return refusals;
}
