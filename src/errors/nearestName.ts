import { distance } from "fastest-levenshtein";

const fold = (name: string): string => name.toLowerCase().replace(/[-_.\s]/g, "");

/**
 * The name that somebody most likely meant.
 *
 * @param wanted - the name that was not found
 * @param names - the names there are
 * @returns the nearest name, or `undefined` when none is near: a name is near when at most a third of its letters
 *   differ, or two. Case, hyphens and dots do not count as differences.
 * @example nearestName("girht", ["girth", "stems"]) // "girth"
 */
export function nearestName(wanted: string, names: Iterable<string>): string | undefined {
  const folded = fold(wanted);
  let nearest: string | undefined;
  let least = Infinity;
  for (const name of names) {
    const steps = distance(folded, fold(name));
    if (steps < least) {
      least = steps;
      nearest = name;
    }
  }
  // Two letters that changed places count as two.
  const near = folded.length <= 2 ? 1 : Math.max(2, Math.ceil(folded.length / 3));
  return least <= near ? nearest : undefined;
}
