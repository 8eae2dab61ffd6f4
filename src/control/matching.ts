import { getOrMake } from "../engine/index.ts";
import { type Choice, folded } from "../model/index.ts";

/** Captions ready to be searched, made once for each list of choices. */
const prepared = new WeakMap<readonly Choice[], readonly string[]>();

function captionsOf(choices: readonly Choice[]): readonly string[] {
  return getOrMake(prepared, choices, () => choices.map((choice) => folded(choice.title)));
}

/** What was found for the text before: a longer text is only looked for in there. */
export interface Matches {
  readonly text: string;
  readonly choices: readonly Choice[];
  /** The places of the choices whose caption holds the text: first those that begin with it, in their order. */
  readonly places: readonly number[];
}

/**
 * The choices that go with what was typed, without regard to case.
 *
 * @param before - what was found for an earlier text; used when that is part of this one
 */
export function matching(choices: readonly Choice[], typed: string, before?: Matches): Matches {
  const text = folded(typed);
  if (before?.choices === choices && before.text === text) return before;
  if (text === "") return { text, choices, places: choices.map((_, place) => place) };
  const captions = captionsOf(choices);
  const beginning: number[] = [];
  const holding: number[] = [];
  const look = (place: number): void => {
    const at = captions[place]!.indexOf(text);
    if (at === 0) beginning.push(place);
    else if (at > 0) holding.push(place);
  };
  if (before?.choices === choices && before.text !== "" && text.includes(before.text)) {
    for (const place of before.places) look(place);
    // A caption that begins with the shorter text may only contain the longer one, so the order is made again.
    holding.sort((a, b) => a - b);
  } else for (let place = 0; place < captions.length; place++) look(place);
  return { text, choices, places: beginning.length === 0 ? holding : beginning.concat(holding) };
}

/** What a key does to a list of so many choices of which one, or none (-1), is active. */
export function listKey(key: string, active: number, length: number, page: number): number | undefined {
  if (length === 0) return undefined;
  const last = length - 1;
  switch (key) {
    case "ArrowDown":
      return active >= last ? 0 : active + 1;
    case "ArrowUp":
      return active <= 0 ? last : active - 1;
    case "PageDown":
      return Math.min(last, active + page);
    case "PageUp":
      return Math.max(0, active - page);
    default:
      return undefined;
  }
}
