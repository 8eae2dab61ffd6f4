import { plainNumber } from "../notation/index.ts";

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
  const wrong = new Set(errors.map((problem) => problem.pointer));
  return controls.find((control) => control.pointers.some((pointer) => wrong.has(pointer)));
}

/** Limits of a spinner. */
export interface StepLimits {
  readonly minimum?: number | undefined;
  readonly maximum?: number | undefined;
  readonly multipleOf?: number | undefined;
  readonly step?: number | undefined;
}

/**
 * The value after so many steps: on the grid of steps that begins at the minimum (as HTML's `stepUp()`), inside the
 * limits, and without the dust of binary fractions. From blank, the first step gives the minimum, or one step from 0.
 */
export function stepped(value: number | undefined, times: number, limits: StepLimits): number {
  const step = limits.step ?? limits.multipleOf ?? 1;
  const { minimum = -Infinity, maximum = Infinity } = limits;
  const base = Number.isFinite(minimum) ? minimum : 0;
  if (value === undefined) return clamped(Number.isFinite(minimum) ? minimum : times * step, minimum, maximum);
  const place = (value - base) / step;
  const near = Math.round(place);
  const onGrid = Math.abs(place - near) < 1e-9;
  const from = onGrid ? near : times > 0 ? Math.floor(place) : Math.ceil(place);
  const digits = Math.max(fractionDigits(step), fractionDigits(base));
  return clamped(Number((base + (from + times) * step).toFixed(digits)), minimum, maximum);
}

const clamped = (value: number, minimum: number, maximum: number): number =>
  Math.min(maximum, Math.max(minimum, value));
const fractionDigits = (value: number): number => plainNumber(value).split(".")[1]?.length ?? 0;

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
