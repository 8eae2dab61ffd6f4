import { pointsInto, type Problem } from "../model/index.ts";

/** What a text control knows about itself when it is about to show its field. */
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
  return problems.filter((problem) => !known.some(({ code, pointer }) => code === problem.code && pointer === problem.pointer));
}
