/** What differs from what it would be, for tests that look at a whole page; it runs in the page. */
export function newDifferences(): {
  readonly found: string[];
  differs(this: void, what: string, is: unknown, right: unknown): void;
} {
  const found: string[] = [];
  return {
    found,
    differs(what, is, right) {
      if (String(is) !== String(right))
        found.push(`${what} is ${JSON.stringify(is)}, and would be ${JSON.stringify(right)}`);
    },
  };
}
