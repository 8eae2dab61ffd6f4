/**
 * Where the items of a list, or the members of an object, stand in a text of JSON, and where its closing bracket is.
 *
 * @param text - well formed
 */
export function jsonItems(text: string): { items: { from: number; to: number }[]; end: number } {
  const items: { from: number; to: number }[] = [];
  let depth = 0;
  let from = -1;
  /** Where what was read last ends. */
  let last = 0;
  const close = (): void => {
    if (from >= 0) items.push({ from, to: last });
    from = -1;
  };
  // A string as a whole, so that a bracket in it is none; then anything but white space.
  for (const { 0: sign, index } of text.matchAll(/"(?:[^"\\]|\\.)*"|[^\s\uFEFF]/g)) {
    const isOutside = depth === 1;
    if ((sign === "]" || sign === "}") && isOutside) {
      close();
      return { items, end: index };
    }
    if (sign === "," && isOutside) close();
    else if (depth > 0) {
      if (from < 0) from = index;
      last = index + sign.length;
    }
    if (sign === "[" || sign === "{") depth++;
    else if (sign === "]" || sign === "}") depth--;
  }
  return { items, end: text.length };
}
