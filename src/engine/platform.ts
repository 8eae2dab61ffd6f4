/**
 * The few things of the platform that the core needs. The core is compiled with neither the DOM's types nor Node's,
 * so they are declared here, structurally: the platform's own objects fit, whichever types a builder compiles with.
 */

/** The part of the platform's `AbortSignal` that Ironwood uses; any `AbortSignal` is one. */
export interface AbortSignalLike {
  /** Whether it was asked to stop. */
  readonly aborted: boolean;
  /** Why it was. */
  readonly reason?: unknown;
  /** Calls a listener once it is asked to stop. */
  addEventListener(type: "abort", listener: () => void, options?: { once?: boolean }): void;
  /** Calls the listener no more. */
  removeEventListener(type: "abort", listener: () => void): void;
}

/** The part of the platform's `AbortController` that Ironwood uses. */
export interface SignalController {
  readonly signal: AbortSignalLike;
  abort(reason?: unknown): void;
}

interface PlatformGlobals {
  setTimeout(run: () => void, milliseconds: number): unknown;
  clearTimeout(timer: unknown): void;
  queueMicrotask(run: () => void): void;
  reportError?: (error: unknown) => void;
  AbortController: new () => SignalController;
  Date: { now(): number };
  crypto: { getRandomValues(bytes: Uint8Array): Uint8Array };
}

const globals = globalThis as unknown as PlatformGlobals;

/** Timers, clock and the place where a builder's exceptions go; a test may put its own in their places. */
export const platform = {
  now: (): number => globals.Date.now(),
  after: (milliseconds: number, run: () => void): unknown => globals.setTimeout(run, milliseconds),
  cancel: (timer: unknown): void => globals.clearTimeout(timer),
  soon: (run: () => void): void => globals.queueMicrotask(run),
  randomBytes: (count: number): Uint8Array => globals.crypto.getRandomValues(new Uint8Array(count)),
  newController: (): SignalController => new globals.AbortController(),
  /** As with an event listener: an exception is reported as uncaught and does not stop the others. */
  report: (error: unknown): void => {
    if (globals.reportError !== undefined) globals.reportError(error);
    else
      globals.queueMicrotask(() => {
        throw error;
      });
  },
};
