import { countUp, sortByKeys } from "./radix.ts";
import { asPart, overRanges, type Slices } from "./slices.ts";

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
export function* textRanks(texts: readonly string[], collator: Intl.Collator): Slices<Uint32Array | undefined> {
  if (texts.length < MANY) return undefined;
  if (!known.has(collator)) known.set(collator, weightsOf(collator));
  const weights = known.get(collator);
  if (weights === undefined) return undefined;
  const written = yield* asPart(write(texts, weights, collator.resolvedOptions().numeric), 0, 0.2);
  if (written === undefined) return undefined;
  const order = yield* asPart(sorted(texts, written, collator), 0.2, 0.8);
  return yield* asPart(ranksFrom(order, texts, written, collator), 0.8, 1);
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

/** @returns `undefined` where a text has a sign that has no weight */
function* write(texts: readonly string[], weights: Weights, numeric: boolean): Slices<Written | undefined> {
  const starts = new Uint32Array(texts.length);
  let length = 0;
  for (const text of texts) length += 2 * text.length + 5;
  const bytes = new Uint8Array(length);
  let at: number | undefined = 0;
  for (let from = 0; from < texts.length && at !== undefined; from += AT_ONCE) {
    yield from / texts.length;
    const to = Math.min(texts.length, from + AT_ONCE);
    for (let index = from; index < to && at !== undefined; index++) {
      starts[index] = at;
      at = writeText(texts[index]!, bytes, at, weights, numeric);
    }
  }
  return at === undefined ? undefined : { bytes, starts };
}

/** @returns where the next begins; `undefined` where this text has a sign that has no weight */
function writeText(
  text: string,
  bytes: Uint8Array,
  begin: number,
  weights: Weights,
  numeric: boolean,
): number | undefined {
  let at = begin;
  for (let from = 0; from < text.length; from++) {
    const code = text.charCodeAt(from);
    if (code > LAST || code < FIRST) return undefined;
    if (!numeric || code < 48 || code > 57) {
      bytes[at++] = weights[code]!;
      continue;
    }
    const end = numberEnd(text, from);
    let first = from;
    while (first < end - 1 && text.charCodeAt(first) === 48) first++;
    if (end - first > LONGEST) return undefined;
    // A number comes where digits come; a longer one is larger, and one as long goes by its digits.
    bytes[at++] = weights[48]!;
    bytes[at++] = end - first;
    for (let digit = first; digit < end; digit++) bytes[at++] = text.charCodeAt(digit) - 47;
    from = end - 1;
  }
  // Four, so that a key of four can be read from anywhere in the text.
  return at + 4;
}

function numberEnd(text: string, from: number): number {
  let end = from + 1;
  for (; end < text.length; end++) {
    const code = text.charCodeAt(end);
    if (code < 48 || code > 57) break;
  }
  return end;
}

/** So many texts at most are worked on between two pauses. */
const AT_ONCE = 1 << 13;

/** Sorts by four weights at a time, and what they leave alike by the next four. */
function* sorted(texts: readonly string[], written: Written, collator: Intl.Collator): Slices<Uint32Array> {
  const order = countUp(texts.length);
  const ranges: (readonly [from: number, to: number, depth: number])[] = [[0, texts.length, 0]];
  let worked = 0;
  let reached = 0;
  while (ranges.length > 0) {
    const [from, to, depth] = ranges.pop()!;
    worked += to - from;
    if (worked >= AT_ONCE) {
      // What is done last is at the beginning: its end is how much is left.
      reached = Math.max(reached, 0.6 * (1 - to / texts.length) + 0.4);
      yield reached;
      worked = 0;
    }
    if (to - from < 16) {
      compareAll(order, from, to, depth, texts, written, collator);
      continue;
    }
    const keys = yield* asPart(sortRange(order, from, to, depth, written), reached, depth === 0 ? 0.4 : reached);
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
function* sortRange(
  order: Uint32Array,
  from: number,
  to: number,
  depth: number,
  { bytes, starts }: Written,
): Slices<Uint32Array> {
  const part = order.subarray(from, to);
  const keys = new Uint32Array(to - from);
  const read = (begin: number, end: number): void => {
    for (let index = begin; index < end; index++) {
      const at = starts[part[index]!]! + depth;
      keys[index] = ((bytes[at]! << 24) | (bytes[at + 1]! << 16) | (bytes[at + 2]! << 8) | bytes[at + 3]!) >>> 0;
    }
  };
  if (keys.length <= AT_ONCE) {
    read(0, keys.length);
    return sortFew(part, keys);
  }
  yield* asPart(overRanges(keys.length, read), 0, 0.2);
  const given = keys.slice();
  const places = yield* asPart(sortByKeys(countUp(keys.length), keys), 0.2, 0.8);
  return yield* asPart(arrange(part, given, places), 0.8, 1);
}

/** Puts some texts and their keys into an order. @returns the keys */
function* arrange(part: Uint32Array, keys: Uint32Array, places: Uint32Array): Slices<Uint32Array> {
  const before = part.slice();
  const sorted = new Uint32Array(keys.length);
  yield* overRanges(places.length, (from, to) => {
    for (let index = from; index < to; index++) {
      part[index] = before[places[index]!]!;
      sorted[index] = keys[places[index]!]!;
    }
  });
  return sorted;
}

/** A key of 32 bits and an index of 20 bits make one whole number, which the platform can sort. */
const INDEXES = 2 ** 20;

function sortFew(part: Uint32Array, keys: Uint32Array): Uint32Array {
  const keyed = new Float64Array(keys.length);
  for (let index = 0; index < keys.length; index++) keyed[index] = keys[index]! * INDEXES + index;
  keyed.sort();
  const before = part.slice();
  for (let index = 0; index < keys.length; index++) {
    const key = Math.floor(keyed[index]! / INDEXES);
    keys[index] = key;
    part[index] = before[keyed[index]! - key * INDEXES]!;
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

function* ranksFrom(
  order: Uint32Array,
  texts: readonly string[],
  written: Written,
  collator: Intl.Collator,
): Slices<Uint32Array> {
  const ranks = new Uint32Array(order.length);
  let rank = 0;
  yield* overRanges(order.length, (from, to) => {
    for (let index = from; index < to; index++) {
      if (index > 0) {
        const [a, b] = [order[index - 1]!, order[index]!];
        if (byWeights(a, b, 0, written) !== 0 || collator.compare(texts[a]!, texts[b]!) !== 0) rank = index;
      }
      ranks[order[index]!] = rank;
    }
  });
  return ranks;
}
