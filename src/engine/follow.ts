import { requireArgument, requireOptions } from "../errors/index.ts";
import { Follower, type FollowCallback, type Stoppable } from "./Follower.ts";
import type { AbortSignalLike } from "./platform.ts";

/** Options of {@link follow}. */
export interface FollowOptions {
  /** Ends the following, as `stop()` does. */
  signal?: AbortSignalLike | undefined;
}

/**
 * Calls `reaction` when what `expression` gives has changed: not at the start, and once at the end of the outermost
 * transaction, with the final state. If the reaction writes, what follows that runs in a pass of its own.
 *
 * @param expression - reads values, fields, tables; must have no side effects. What it reads is found out each time.
 * @param reaction - gets the new value, the one before and what brought the change about. An exception in it is
 *   reported as uncaught, and the other followers run on.
 * @returns what stops it; `stop()` may be called more than once
 * @throws whatever `expression` throws the first time; later exceptions in it are reported as uncaught
 * @example
 * follow(() => card.values.girth, (girth, before) => console.log(`${before} → ${girth}`));
 */
export function follow<T>(expression: () => T, reaction: FollowCallback<T>, options: FollowOptions = {}): Stoppable {
  requireArgument(typeof expression === "function", "follow", expression, "a function that reads what is followed");
  requireArgument(
    typeof reaction === "function",
    "follow",
    reaction,
    "a second function, called when that has changed",
  );
  requireOptions("follow", options, { signal: "signal" });
  return new Follower(expression, reaction, reaction.name || "a follower without a name", options.signal);
}
