import { IronwoodError } from "../errors/index.ts";
import { platform, type Signal, type Stoppable } from "../engine/index.ts";
import type { Verdict } from "../markup/index.ts";
import type { Judge } from "./judging/Judge.ts";

/** Options of everything that binds. */
export interface BindOptions {
  /** Ends the binding, as `stop()` does. */
  readonly signal?: Signal | undefined;
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

/** What is bound, until it is stopped. */
export interface Binding extends Stoppable {
  /** Everything in the page that does not agree with what it was bound to. */
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

/** Makes a binding of what has to be undone. */
export function bindingOf(undoing: Undoing, verdicts: readonly Verdict[], signal: Signal | undefined): Binding {
  const stop = (): void => {
    signal?.removeEventListener("abort", stop);
    undoing.stop();
  };
  if (signal?.aborted === true) stop();
  else signal?.addEventListener("abort", stop, { once: true });
  return { verdicts, stop, [Symbol.dispose]: stop };
}

/** Reports what does not agree, all at once; refuses to bind where that is wanted. */
export function report(verdicts: readonly Verdict[], strict: boolean | undefined): void {
  if (verdicts.length === 0) return;
  const error = new IronwoodError("page", reportText(verdicts));
  if (strict === true) throw error;
  platform.report(error);
}

function reportText(verdicts: readonly Verdict[]): string {
  const count = verdicts.length === 1 ? "one place" : `${verdicts.length} places`;
  const lines = verdicts.map(
    ({ code, message, place }, number) => `  ${number + 1}. ${place}\n     ${message} [${code}]`,
  );
  return `The page does not agree with what it is bound to in ${count}:\n${lines.join("\n")}\n`;
}
