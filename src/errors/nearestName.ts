const fold = (name: string): string => name.toLowerCase().replace(/[-_.\s]/g, "");

/** Longer names are compared by their beginnings: nobody misspells what nobody reads to its end. */
const LONGEST = 64;

/**
 * In how many places two texts differ: how many letters have to be put in, taken out or exchanged (V. I. Levenshtein, 1966), two that
 * changed places with each other counting as one (F. J. Damerau, 1964). Written here, as every page has it and a package that is fast for
 * long texts is larger than all other errors together.
 */
function distance(a: string, b: string): number {
  let before = Array.from({ length: b.length + 1 }, (_, index) => index);
  let earlier = before;
  for (let row = 1; row <= a.length; row++) {
    const now = [row];
    for (let index = 1; index <= b.length; index++) {
      const same = before[index - 1]! + Number(a[row - 1] !== b[index - 1]);
      const swapped = row > 1 && a[row - 1] === b[index - 2] && a[row - 2] === b[index - 1];
      const least = Math.min(same, before[index]! + 1, now[index - 1]! + 1);
      now.push(swapped ? Math.min(least, earlier[index - 2]! + 1) : least);
    }
    earlier = before;
    before = now;
  }
  return before[b.length]!;
}

/**
 * The name that somebody most likely meant.
 *
 * @param wanted - the name that was not found
 * @param names - the names there are
 * @returns the nearest name, or `undefined` when none is near: a name is near when at most a third of its letters
 *   differ, or two; of three letters or fewer, one. Case, hyphens and dots do not count as differences. Where none is near, a path is meant whose last part is.
 * @example nearestName("girht", ["girth", "stems"]) // "girth"
 */
export function nearestName(wanted: string, names: Iterable<string>): string | undefined {
  const all = [...names];
  const nearest = nearestOf(wanted, all, (name) => name);
  const paths = all.filter((name) => name.includes("."));
  return nearest ?? (paths.length === 0 ? undefined : nearestOf(wanted, paths, lastPart));
}

const lastPart = (path: string): string => path.slice(path.lastIndexOf(".") + 1);

/** @param compared - gives what of a name is compared */
function nearestOf(wanted: string, names: readonly string[], compared: (name: string) => string): string | undefined {
  const folded = fold(wanted.slice(0, 2 * LONGEST)).slice(0, LONGEST);
  const near = folded.length <= 3 ? 1 : Math.max(2, Math.ceil(folded.length / 3));
  let nearest: string | undefined;
  let least = near + 1;
  for (const name of names) {
    const other = fold(compared(name).slice(0, 2 * LONGEST)).slice(0, LONGEST);
    const steps = Math.abs(other.length - folded.length) < least ? distance(folded, other) : least;
    if (steps >= least) continue;
    least = steps;
    nearest = name;
  }
  return nearest;
}
