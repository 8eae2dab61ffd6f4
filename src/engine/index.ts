export { dispose } from "./dispose.ts";
export { Calculation } from "./Calculation.ts";
export { collectReads, isReadNow, readAgain } from "./collectReads.ts";
export { follow, type FollowOptions } from "./follow.ts";
export { delayedMirror, Follower, laterMirror, mirror, type FollowCallback, type Stoppable } from "./Follower.ts";
export { inCalculation, type Source, sourcesOf, type Target, untracked } from "./graph.ts";
export { internal } from "./internal.ts";
export { getOrMake } from "./getOrMake.ts";
export { History, type HistoryOptions, newHistory, type UndoStep, type Undone } from "./History.ts";
export type { Undoable } from "./HistoryStep.ts";
export { record, type Restorable } from "./journal.ts";
export {
  because,
  beginCause,
  type Change,
  changeNow,
  endCause,
  inOneUnit,
  type PassWatcher,
  unitNow,
  watchPasses,
} from "./passes.ts";
export { type NodeIdentity, type NodeSort } from "./NodeIdentity.ts";
export { newId } from "./newId.ts";
export { platform, type AbortSignalLike, type SignalController } from "./platform.ts";
export { sameValue } from "./sameValue.ts";
export { allSoon, isPromise, type Soon } from "./soon.ts";
export { atEnd, type NotAPromise, refuse, transaction, type TransactionResult } from "./transaction.ts";
export { Value } from "./Value.ts";
