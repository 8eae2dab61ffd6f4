import { begin, setTracker, type Source, sourcesOf, Target, track, tracker } from "./graph.ts";

/** What gathers reads; it is told of no change. */
class Collector extends Target {}

/** Runs work and gathers what it reads, which is not noted as read by what is being evaluated. */
export function collectReads<T>(work: () => T, into: Set<Source>): T {
  const previous = tracker;
  const collector = new Collector();
  begin(collector);
  try {
    return work();
  } finally {
    setTracker(previous);
    for (const source of sourcesOf(collector)) into.add(source);
  }
}

/** A source that is brought up to date before it is looked at. */
interface Calculates extends Source {
  bringUpToDate(): void;
}

/** Reads a source again, whatever it gives; followed. */
export function readAgain(source: Source): void {
  if (source.calculates) (source as Calculates).bringUpToDate();
  if (tracker !== undefined) track(source, tracker);
}

/** Whether what is being evaluated has read a source. */
export const isReadNow = ({ readIn }: Source): boolean => tracker?.evaluation === readIn;
