import { suggestion } from "#nearest";
import type { ErrorCode } from "./codes.ts";

/** What an {@link IronwoodError} can say beside its message. */
export interface ErrorFacts {
  /** The element, path, file and line, or call where it is wrong. */
  where?: string | undefined;
  /** What was received. */
  received?: unknown;
  /** What would be right. */
  expected?: string | undefined;
  /** The name there is that comes nearest to the one that was given. */
  nearest?: string | undefined;
  /** All the names there are. */
  names?: readonly string[] | undefined;
  /** The error that this one came of. */
  cause?: unknown;
}

/**
 * A mistake in the code or the page that uses Ironwood; never a mistake of the person who types.
 * `code` is stable and listed in `docs/errors.md`; `message` says what is wrong, where, what was received, what would
 * be right and which name comes nearest.
 */
export class IronwoodError extends Error {
  /** Always "IronwoodError". */
  override readonly name = "IronwoodError";
  /** Which mistake it is; it stays the same when the words change. */
  readonly code: ErrorCode;
  /** What its message was made of. */
  readonly facts: ErrorFacts;

  constructor(code: ErrorCode, what: string, facts: ErrorFacts = {}) {
    super(sentence(what, facts), facts.cause === undefined ? undefined : { cause: facts.cause });
    this.code = code;
    this.facts = facts;
  }
}

/** The error for a name that is not there: with the nearest one and the list of all. */
export function unknownName(code: ErrorCode, what: string, wanted: unknown, names: readonly string[], where?: string) {
  const isName = typeof wanted === "string";
  return new IronwoodError(code, `${what} ${isName ? `"${wanted}"` : shown(wanted)} is not known`, {
    where,
    nearest: isName ? suggestion(wanted, names) : undefined,
    names,
  });
}

const LISTED = 24;

function sentence(what: string, facts: ErrorFacts): string {
  let text = what;
  if (facts.where !== undefined) text += `, at ${facts.where}`;
  text += ".";
  if ("received" in facts) text += ` Received ${shown(facts.received)}.`;
  if (facts.expected !== undefined) text += ` Right would be ${facts.expected}.`;
  if (facts.nearest !== undefined) text += ` Did you mean "${facts.nearest}"?`;
  if (facts.names !== undefined) text += ` ${listed(facts.names)}`;
  return text;
}

function listed(names: readonly string[]): string {
  if (names.length === 0) return "There are no names here.";
  const more = names.length - LISTED;
  const first = names.slice(0, LISTED).join(", ");
  return more > 0 ? `The names are: ${first} and ${more} more.` : `The names are: ${first}.`;
}

/** A value as a message shows it: short, and with its type visible. */
export function shown(value: unknown): string {
  if (typeof value === "string") return JSON.stringify(value.length > 60 ? `${value.slice(0, 60)}…` : value);
  if (typeof value === "function") return value.name === "" ? "a function" : `the function ${value.name}`;
  if (typeof value === "bigint") return `${value}n`;
  if (value instanceof Date) return "a Date";
  if (Array.isArray(value)) return `a list of ${value.length}`;
  if (typeof value === "object" && value !== null) return `an object with ${Object.keys(value).slice(0, 5).join(", ")}`;
  return String(value);
}
