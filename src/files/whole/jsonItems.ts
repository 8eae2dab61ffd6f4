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
  for (let at = 0; at < text.length; at++) {
    const code = text.charCodeAt(at);
    if (isSpace(code)) continue;
    const isOutside = depth === 1;
    const isEnd = code === BRACKET_END || code === BRACE_END;
    if (isEnd && isOutside) {
      close();
      return { items, end: at };
    }
    const begin = at;
    // A string as a whole, so that a bracket in it is none.
    if (code === QUOTE) at = stringEnd(text, at);
    if (code === COMMA && isOutside) close();
    else if (depth > 0) {
      if (from < 0) from = begin;
      last = at + 1;
    }
    if (code === BRACKET || code === BRACE) depth++;
    else if (isEnd) depth--;
  }
  return { items, end: text.length };
}

const [QUOTE, COMMA, BRACKET, BRACKET_END, BRACE, BRACE_END] = [0x22, 0x2c, 0x5b, 0x5d, 0x7b, 0x7d];
const BACKSLASH = 0x5c;

/** White space of JSON, and the mark that a file may begin with. */
const isSpace = (code: number): boolean =>
  code === 0x20 || code === 0x0a || code === 0x0d || code === 0x09 || code === 0xfeff;

/** Where the quotation mark is that ends a string. @param at - where it begins */
function stringEnd(text: string, at: number): number {
  for (let next = text.indexOf('"', at + 1); next >= 0; next = text.indexOf('"', next + 1)) {
    let slashes = 0;
    while (text.charCodeAt(next - 1 - slashes) === BACKSLASH) slashes++;
    if (slashes % 2 === 0) return next;
  }
  return text.length - 1;
}
