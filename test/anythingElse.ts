import { IronwoodError, text } from "../src/index.ts";

/** A call that is right: what is called, what it is given, and the options that may be among that. */
export interface Call {
  readonly call: (...args: never[]) => unknown;
  readonly args: readonly unknown[];
  /** Which of the arguments is an object of options. */
  readonly options?: number;
  /** Arguments that may be anything, null too. */
  readonly free?: readonly number[];
}

const anything: readonly unknown[] = [
  ...[null, 5, -1, NaN, "", "x", true, {}, { x: 1 }, [], [null], ["x"]],
  ...[Symbol("x"), 10n, () => 5, new Date(0), text, text()],
];

function inWords(value: unknown): string {
  if (typeof value === "function") return `the function ${value.name}`;
  const isPlain = typeof value !== "symbol" && typeof value !== "bigint" && !Number.isNaN(value);
  return isPlain ? JSON.stringify(value) : String(value);
}

/** What went wrong by accident, and where. */
const whereFrom = (error: unknown): string =>
  String((error as Error).stack ?? error)
    .split("\n")
    .slice(0, 2)
    .join("");

/** What a call throws or rejects with; what it began is stopped. */
async function errorOf(call: Call["call"], args: readonly unknown[]): Promise<unknown> {
  try {
    const given: unknown = await call(...(args as never[]));
    (given as { readonly stop?: () => void } | null | undefined)?.stop?.();
    return undefined;
  } catch (error) {
    // A signal that is aborted ends a call as the platform has it.
    return (error as Error).name === "AbortError" ? undefined : error;
  }
}

/** @returns what is wrong with how a call ended; `undefined` when nothing is */
function faultOf(error: unknown, mustRefuse: boolean): string | undefined {
  if (error === undefined) return mustRefuse ? "was passed over" : undefined;
  if (!(error instanceof IronwoodError)) return `failed by accident: ${whereFrom(error)}`;
  return /^[A-Z.a-z"<].*[.?]$/s.test(error.message) ? undefined : `is told as ${error.message}`;
}

/**
 * Gives a call anything in place of each of its arguments and options: it takes it, or refuses it by an error of Ironwood's own in words.
 *
 * @param make - makes the call anew, as it is right
 * @param more - what else is given
 * @returns what fails by accident inside, and what passes over a null or an option that there is not
 */
export async function faultsOf(make: () => Call | Promise<Call>, more: readonly unknown[] = []): Promise<string[]> {
  const found: string[] = [];
  const tried = async (
    what: string,
    mustRefuse: boolean,
    change: (right: Call) => readonly unknown[],
  ): Promise<void> => {
    const right = await make();
    const fault = faultOf(await errorOf(right.call, change(right)), mustRefuse);
    if (fault !== undefined) found.push(`${what} ${fault}`);
  };
  const { call: called, args, options, free = [] } = await make();
  const error = await errorOf(called, args);
  if (error !== undefined) return [`what is right is refused: ${whereFrom(error)}`];
  const all = [...anything, ...more];
  for (const place of args.keys())
    for (const given of all) {
      const mustRefuse = given === null && !free.includes(place);
      await tried(`argument ${place} as ${inWords(given)}`, mustRefuse, (right) => right.args.with(place, given));
    }
  if (options === undefined) return found;
  const withOption = (name: string, value: unknown): Promise<void> =>
    tried(`option ${name} as ${inWords(value)}`, value === null || name === "unknownToAll", (right) =>
      right.args.with(options, { ...(right.args[options] as object), [name]: value }),
    );
  await withOption("unknownToAll", 1);
  for (const name of Object.keys(args[options] as object)) for (const given of all) await withOption(name, given);
  return found;
}
