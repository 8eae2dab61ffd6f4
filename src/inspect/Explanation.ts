/** Why something is as it is: what it came to, and what was read for it, each with its own value and what was read for that. */
export interface Explanation {
  /** What is explained: the title of a field, or a condition, rule or calculation by its name. */
  readonly what: string;
  /** What it came to, in words. */
  readonly verdict: string;
  /** What it comes of, each explained in the same way. */
  readonly because: readonly Explanation[];
  /** The whole chain, one thing in a line, what was read indented below what read it. */
  toString(): string;
}

export function explanation(what: string, verdict: string, because: readonly Explanation[] = []): Explanation {
  return { what, verdict, because, toString: () => linesOf({ what, verdict, because }).join("\n") };
}

function linesOf({ what, verdict, because }: Omit<Explanation, "toString">): string[] {
  const inner = because.flatMap((each) => linesOf(each)).map((line) => `  ${line}`);
  return [verdict === "" ? what : `${what}: ${verdict}`, ...inner];
}
