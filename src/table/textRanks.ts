/**
 * The order of many texts by a language's rules, without comparing each with others over and over: where the rules are
 * simple, as they are for the letters of ASCII in most languages, a text is written as weights, and these are sorted as
 * numbers. What the weights are is found out from the platform's collator, and so is whether they are simple.
 */

/** Fewer texts than this are compared with each other. */
const MANY = 2_000;
/** The codes from the blank to the tilde. */
const FIRST = 32;
const LAST = 126;
/** Above it a number has too many digits for its length to be a weight. */
const LONGEST = 250;

/** The weight of each code, 1 and more; `undefined` where texts can't be written as weights. */
type Weights = Uint8Array;

const known = new WeakMap<Intl.Collator, Weights | undefined>();

/** @returns the index of each text in the order, the same for those that are alike; `undefined` where it is not simple */
export function textRanks(texts: readonly string[], collator: Intl.Collator): Uint32Array | undefined {
  if (texts.length < MANY) return undefined;
  if (!known.has(collator)) known.set(collator, weightsOf(collator));
  const weights = known.get(collator);
  if (weights === undefined) return undefined;
  const written = write(texts, weights, collator.resolvedOptions().numeric);
  if (written === undefined) return undefined;
  const order = sorted(texts, written, collator);
  return ranksFrom(order, texts, written, collator);
}

/**
 * Finds out what a collator thinks of single letters, and whether it thinks of two together as of one after the other: it
 * does not where two letters count as one, as ch and aa do in some languages.
 */
function weightsOf(collator: Intl.Collator): Weights | undefined {
  const { locale } = collator.resolvedOptions();
  // Digits one by one: as numbers they are written apart.
  const base = new Intl.Collator(locale, { sensitivity: "base" });
  const signs = Array.from({ length: LAST - FIRST + 1 }, (_, index) => String.fromCharCode(FIRST + index));
  const order = signs.toSorted(base.compare);
  const weights = new Uint8Array(LAST + 1);
  let weight = 1;
  order.forEach((sign, index) => {
    if (index > 0 && base.compare(order[index - 1]!, sign) !== 0) weight++;
    weights[sign.charCodeAt(0)] = weight;
  });
  const ignored = signs.some((sign) => base.compare(sign, "") === 0);
  return ignored || !isSimple(signs, weights, base) ? undefined : weights;
}

function isSimple(signs: readonly string[], weights: Weights, base: Intl.Collator): boolean {
  const weigh = (sign: string): number => weights[sign.charCodeAt(0)]!;
  const markers = ["!", "5", "m", "z"];
  for (const a of signs)
    for (const b of signs)
      for (const marker of markers) {
        const second = Math.sign(weigh(b) - weigh(marker));
        if (Math.sign(base.compare(a + b, a + marker)) !== second) return false;
        const first = Math.sign(weigh(a) - weigh(marker)) || 1;
        if (Math.sign(base.compare(a + b, marker)) !== first) return false;
      }
  return true;
}

interface Written {
  /** The weights of all texts, one after the other, each ended by a 0. */
  readonly bytes: Uint8Array;
  /** Where the weights of each begin. */
  readonly starts: Uint32Array;
}

function write(texts: readonly string[], weights: Weights, numeric: boolean): Written | undefined {
  const starts = new Uint32Array(texts.length);
  let length = 0;
  for (const text of texts) length += 2 * text.length + 5;
  const bytes = new Uint8Array(length);
  let at = 0;
  for (let index = 0; index < texts.length; index++) {
    starts[index] = at;
    const text = texts[index]!;
    for (let from = 0; from < text.length; from++) {
      const code = text.charCodeAt(from);
      if (code > LAST || code < FIRST) return undefined;
      if (!numeric || code < 48 || code > 57) {
        bytes[at++] = weights[code]!;
        continue;
      }
      const end = numberEnd(text, from);
      let begin = from;
      while (begin < end - 1 && text.charCodeAt(begin) === 48) begin++;
      if (end - begin > LONGEST) return undefined;
      // A number comes where digits come; a longer one is larger, and one as long goes by its digits.
      bytes[at++] = weights[48]!;
      bytes[at++] = end - begin;
      for (let digit = begin; digit < end; digit++) bytes[at++] = text.charCodeAt(digit) - 47;
      from = end - 1;
    }
    // Four, so that a key of four can be read from anywhere in the text.
    at += 4;
  }
  return { bytes, starts };
}

function numberEnd(text: string, from: number): number {
  let end = from + 1;
  for (; end < text.length; end++) {
    const code = text.charCodeAt(end);
    if (code < 48 || code > 57) break;
  }
  return end;
}

/** So many texts at most are sorted at once by one key each. */
const AT_ONCE = 2 ** 20;

/** Sorts by four weights at a time, and what they leave alike by the next four. */
function sorted(texts: readonly string[], written: Written, collator: Intl.Collator): Uint32Array {
  const order = Uint32Array.from(texts, (_, index) => index);
  const ranges: (readonly [from: number, to: number, depth: number])[] = [[0, texts.length, 0]];
  while (ranges.length > 0) {
    const [from, to, depth] = ranges.pop()!;
    if (to - from < 16 || to - from > AT_ONCE) {
      compareAll(order, from, to, depth, texts, written, collator);
      continue;
    }
    const keys = sortRange(order, from, to, depth, written);
    let begin = from;
    for (let index = from + 1; index <= to; index++) {
      if (index < to && keys[index - from] === keys[begin - from]) continue;
      // A key that ends with the text tells it whole.
      const whole = (keys[begin - from]! & 0xff) === 0;
      if (index - begin > 1) {
        if (whole) compareAll(order, begin, index, -1, texts, written, collator);
        else ranges.push([begin, index, depth + 4]);
      }
      begin = index;
    }
  }
  return order;
}

/** @returns the keys, in their order */
function sortRange(
  order: Uint32Array,
  from: number,
  to: number,
  depth: number,
  { bytes, starts }: Written,
): Uint32Array {
  const count = to - from;
  // A key of 32 bits and an index of 20 bits make one whole number, which the platform can sort.
  const keyed = new Float64Array(count);
  for (let index = 0; index < count; index++) {
    const at = starts[order[from + index]!]! + depth;
    const key = ((bytes[at]! << 24) | (bytes[at + 1]! << 16) | (bytes[at + 2]! << 8) | bytes[at + 3]!) >>> 0;
    keyed[index] = key * AT_ONCE + index;
  }
  keyed.sort();
  const before = order.slice(from, to);
  const keys = new Uint32Array(count);
  for (let index = 0; index < count; index++) {
    const key = Math.floor(keyed[index]! / AT_ONCE);
    keys[index] = key;
    order[from + index] = before[keyed[index]! - key * AT_ONCE]!;
  }
  return keys;
}

/** Compares a few with each other: by their weights from a depth on, and where these are alike by the collator. */
function compareAll(
  order: Uint32Array,
  from: number,
  to: number,
  depth: number,
  texts: readonly string[],
  written: Written,
  collator: Intl.Collator,
): void {
  const part = order.subarray(from, to);
  part.sort((a, b) => (depth < 0 ? 0 : byWeights(a, b, depth, written)) || collator.compare(texts[a]!, texts[b]!));
}

function byWeights(a: number, b: number, depth: number, { bytes, starts }: Written): number {
  let x = starts[a]! + depth;
  let y = starts[b]! + depth;
  while (bytes[x] === bytes[y]) {
    if (bytes[x] === 0) return 0;
    x++;
    y++;
  }
  return bytes[x]! - bytes[y]!;
}

function ranksFrom(
  order: Uint32Array,
  texts: readonly string[],
  written: Written,
  collator: Intl.Collator,
): Uint32Array {
  const ranks = new Uint32Array(order.length);
  let rank = 0;
  for (let index = 0; index < order.length; index++) {
    if (index > 0) {
      const [a, b] = [order[index - 1]!, order[index]!];
      if (byWeights(a, b, 0, written) !== 0 || collator.compare(texts[a]!, texts[b]!) !== 0) rank = index;
    }
    ranks[order[index]!] = rank;
  }
  return ranks;
}
