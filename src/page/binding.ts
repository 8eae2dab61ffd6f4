import { type BoundPart, listUnder } from "../control/index.ts";
import { type AbortSignalLike, type Stoppable, dispose } from "../engine/index.ts";
import type { OptionTypes } from "../errors/index.ts";
import type { Verdict } from "../markup/index.ts";
import type { Judge } from "./judging/Judge.ts";
import { takeOver } from "./takeOver.ts";

/** Options of everything that binds. */
export interface BindOptions {
  /** Ends the binding, as `stop()` does. */
  readonly signal?: AbortSignalLike | undefined;
  /**
   * Whether to refuse a page that does not agree with its models. By default everything that agrees is bound, and the
   * rest is reported as one uncaught error that lists every place.
   */
  readonly strict?: boolean | undefined;
  /**
   * Who judges whether page and models agree: `judge` of `ironwood/judge`. Default: that one, but in a bundle for production nobody,
   * where it would cost every page its bytes; there a page is judged by `check page` of the command line, in development, and by tests.
   */
  readonly judge?: Judge | undefined;
}

/** What a caller may give as {@link BindOptions}, for the check of options. */
export const bindOptions: OptionTypes = { signal: "signal", strict: "boolean", judge: "object" };

/** What is bound, until it is stopped. */
export interface Binding extends Stoppable {
  /** Everything in the page that does not agree with what it was bound to; what comes into it later is judged and added. */
  readonly verdicts: readonly Verdict[];
}

/** What has to be undone when a binding ends. */
export class Undoing {
  #stops: (() => void)[] = [];

  add(stop: () => void): void {
    this.#stops.push(stop);
  }

  keep(stoppable: Stoppable): void {
    this.add(() => stoppable.stop());
  }

  stop(): void {
    const stops = this.#stops;
    this.#stops = [];
    for (const stop of stops.reverse()) stop();
  }
}

/**
 * Keeps what shows something in an element, listed by the name that the element has.
 *
 * @param show - begins to show it, once what was there before has ended
 * @param as - what it is, where an element may be several of a kind
 */
export function keepListed<S extends { stop(): void }>(
  undoing: Undoing,
  kind: BoundPart["kind"],
  element: Element,
  thing: object | undefined,
  show: () => S,
  as: string = kind,
): S {
  const own = new Undoing();
  own.add(takeOver(as, element, () => own.stop()));
  const path = element.getAttribute("data-name") ?? element.getAttribute("command") ?? element.id;
  const shown = show();
  own.keep(listUnder(element.ownerDocument, { kind, path, element, thing }));
  own.add(() => shown.stop());
  undoing.add(() => own.stop());
  return shown;
}

/** Makes a binding of what has to be undone. */
export function bindingOf(
  undoing: Undoing,
  verdicts: readonly Verdict[],
  signal: AbortSignalLike | undefined,
): Binding {
  const stop = (): void => {
    signal?.removeEventListener("abort", stop);
    undoing.stop();
  };
  if (signal?.aborted === true) stop();
  else signal?.addEventListener("abort", stop, { once: true });
  return { verdicts, stop, [dispose]: stop };
}
