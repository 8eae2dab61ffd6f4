import { keyLetter, type PressedKey } from "../command/index.ts";
import { pointsInto, type Problem } from "../model/index.ts";

/** The state of a text control when it is about to show its field. */
export interface TextFacts {
  readonly focused: boolean;
  readonly composing: boolean;
  /** What brought the change about. */
  readonly cause: string;
  /** Whether it was brought about by typing in this very control. */
  readonly own: boolean;
}

/**
 * What a text control does about a change: show the text to edit, show the display format, or leave what is there.
 * While it has the focus, only what a person asked for rewrites it; anything else waits until it is left.
 */
export function whatToShow({ focused, composing, cause, own }: TextFacts): "text" | "display" | "keep" | "later" {
  if (own) return "keep";
  if (!focused) return "display";
  if (cause === "code" || cause === "stored" || cause === "typed") return "keep";
  return composing ? "later" : "text";
}

/** One control in the order of the page. */
export interface PlacedControl {
  readonly pointers: readonly string[];
}

/** Where the focus goes after a refused save: the first control in the page's order that shows an error. */
export function firstWrong<C extends PlacedControl>(
  controls: readonly C[],
  errors: readonly { readonly pointer: string }[],
): C | undefined {
  return controls.find((control) =>
    control.pointers.some((own) => errors.some(({ pointer }) => pointsInto(pointer, own))),
  );
}

/** What a key with its modifiers takes back or brings again, by the customs of all platforms. */
export function undoKey(pressed: PressedKey): "undo" | "redo" | undefined {
  const { ctrlKey, metaKey, altKey, shiftKey } = pressed;
  if (altKey || ctrlKey === metaKey) return undefined;
  const letter = keyLetter(pressed);
  if (letter === "z") return shiftKey ? "redo" : "undo";
  return letter === "y" && ctrlKey && !shiftKey ? "redo" : undefined;
}

/** How many steps a key moves a spinner; `undefined` when it does nothing. */
export function spinnerKey(key: string): number | undefined {
  return spinnerKeys[key];
}

const spinnerKeys: Readonly<Record<string, number>> = {
  ArrowUp: 1,
  ArrowDown: -1,
  PageUp: 10,
  PageDown: -10,
};

/** The problems that a person has not been shown yet: a press that first reveals a warning stops once. */
export function newsIn(problems: readonly Problem[], known: readonly Problem[]): readonly Problem[] {
  return problems.filter(
    (problem) => !known.some(({ code, pointer }) => code === problem.code && pointer === problem.pointer),
  );
}

/** What there is to know of a notice, to decide what the status line shows. */
export interface SaidText {
  readonly text: string;
  readonly atOnce: boolean;
}

/** How long a text is left alone before the next takes its place, in milliseconds. */
const readingTime = (text: string): number => Math.max(1_500, text.length * 50);

/** So many texts at most wait for their turn. */
const MOST_WAITING = 3;

/**
 * What the status line shows now: each text in its turn, and at once what answers what a person has just done, or is an error.
 *
 * @param said - all that was said, oldest first
 * @param latest - the last of them
 * @param shown - what is shown now
 * @param shownFor - for how many milliseconds it has been
 * @returns what to show, and after how many milliseconds to ask again, where another waits
 */
export function nextNotice<N extends SaidText>(
  said: readonly N[],
  latest: N,
  shown: N | undefined,
  shownFor: number,
): { readonly notice: N; readonly after: number | undefined } {
  const at = shown === undefined ? -1 : said.lastIndexOf(shown);
  // What was there has been cleared, or is so long ago that it is not kept.
  if (shown === undefined || at < 0 || latest.atOnce) return { notice: latest, after: undefined };
  const waiting = said.slice(Math.max(at + 1, said.length - MOST_WAITING));
  const [next] = waiting;
  if (next === undefined) return { notice: shown, after: undefined };
  const left = readingTime(shown.text) - shownFor;
  if (left > 0) return { notice: shown, after: left };
  return { notice: next, after: waiting.length > 1 ? readingTime(next.text) : undefined };
}
