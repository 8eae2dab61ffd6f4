/// <reference lib="esnext.disposable" preserve="true" />
/**
 * The key of the member that `using` calls (ECMAScript, explicit resource management). An engine without it gets one of its own, so
 * that no member is called "undefined"; for `using` such an engine needs what its compiler brings along.
 */
export const dispose: typeof Symbol.dispose =
  // eslint-disable-next-line @typescript-eslint/no-unnecessary-condition -- WebKit has none
  Symbol.dispose ?? (Symbol.for("Symbol.dispose") as typeof Symbol.dispose);
