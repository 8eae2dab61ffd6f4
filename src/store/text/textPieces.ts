import { NOT_UTF8 } from "./lines.ts";

/** What rows are read from: a text, or its pieces as they come. Bytes are UTF-8; with a byte order mark also UTF-16. */
export type TextSource = string | Uint8Array | Iterable<string | Uint8Array> | AsyncIterable<string | Uint8Array>;

/** Whether something can be read from. */
export const isTextSource = (source: unknown): source is TextSource =>
  typeof source === "string" ||
  (Array.isArray(source)
    ? source.every((piece) => typeof piece === "string" || piece instanceof Uint8Array)
    : typeof source === "object" && source !== null && (Symbol.iterator in source || Symbol.asyncIterator in source));

/** Some text, and how much of the source it is: in bytes where the source has bytes, else in characters. */
export interface Piece {
  readonly text: string;
  readonly size: number;
}

/** So much text is given at once. */
const PIECE = 1 << 16;

/** The text in pieces that are read in a moment each, without a byte order mark. */
export async function* textPieces(source: TextSource): AsyncGenerator<Piece> {
  const decoder = new ByteDecoder();
  let waiting: Piece = { text: "", size: 0 };
  let isFirst = true;
  for await (const given of typeof source === "string" || source instanceof Uint8Array ? [source] : source) {
    const decoded = typeof given === "string" ? given : decoder.decode(given);
    const text = isFirst ? decoded.replace(/^\uFEFF/, "") : decoded;
    isFirst &&= decoded === "";
    waiting = { text: waiting.text + text, size: waiting.size + given.length };
    // Small pieces are put together, and large ones taken apart.
    for (; waiting.text.length >= PIECE; waiting = without(waiting)) yield firstOf(waiting);
  }
  yield { text: waiting.text + decoder.end(), size: waiting.size };
}

const sizeOfFirst = ({ text, size }: Piece): number => Math.round((size * PIECE) / text.length);
const firstOf = (piece: Piece): Piece => ({ text: piece.text.slice(0, PIECE), size: sizeOfFirst(piece) });
const without = (piece: Piece): Piece => ({ text: piece.text.slice(PIECE), size: piece.size - sizeOfFirst(piece) });

interface Decoder {
  decode(bytes?: Uint8Array, options?: { readonly stream: boolean }): string;
}
type DecoderClass = new (label: string, options: { readonly fatal: boolean; readonly ignoreBOM: boolean }) => Decoder;

function newDecoder(label: string, fatal: boolean): Decoder {
  const { TextDecoder } = globalThis as unknown as { TextDecoder: DecoderClass };
  return new TextDecoder(label, { fatal, ignoreBOM: true });
}

/**
 * Decodes bytes that come in pieces. What is not UTF-8 does not become a sign that looks like text: each line that has such
 * bytes gets {@link NOT_UTF8}, so that it can be told.
 */
class ByteDecoder {
  /** Bytes of a character that is not whole yet. */
  #rest = new Uint8Array(0);
  #utf16: Decoder | undefined;
  #isFirst = true;

  decode(given: Uint8Array): string {
    let bytes = joined(this.#rest, given);
    if (this.#isFirst && bytes.length < 2) {
      this.#rest = bytes;
      return "";
    }
    if (this.#isFirst) {
      this.#utf16 = utf16Of(bytes);
      this.#isFirst = false;
    }
    if (this.#utf16 !== undefined) {
      this.#rest = new Uint8Array(0);
      return this.#utf16.decode(bytes, { stream: true });
    }
    const whole = bytes.length - unfinished(bytes);
    this.#rest = bytes.slice(whole);
    bytes = bytes.subarray(0, whole);
    return decoded(bytes) ?? lineByLine(bytes);
  }

  end(): string {
    if (this.#utf16 !== undefined) return this.#utf16.decode();
    return decoded(this.#rest) ?? lineByLine(this.#rest);
  }
}

function joined(first: Uint8Array, second: Uint8Array): Uint8Array<ArrayBuffer> {
  const both = new Uint8Array(first.length + second.length);
  both.set(first);
  both.set(second, first.length);
  return both;
}

function utf16Of(bytes: Uint8Array): Decoder | undefined {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return newDecoder("utf-16le", false);
  return bytes[0] === 0xfe && bytes[1] === 0xff ? newDecoder("utf-16be", false) : undefined;
}

/** How many bytes at the end begin a character that goes on in what comes next. */
function unfinished(bytes: Uint8Array): number {
  for (let back = 1; back <= Math.min(3, bytes.length); back++) {
    const byte = bytes[bytes.length - back]!;
    if (byte < 0x80) return 0;
    if (byte < 0xc0) continue;
    return back < lengthAfter(byte) ? back : 0;
  }
  return 0;
}

/** How many bytes a character has that begins with this one. */
function lengthAfter(lead: number): number {
  if (lead >= 0xf0) return 4;
  return lead >= 0xe0 ? 3 : 2;
}

function decoded(bytes: Uint8Array): string | undefined {
  try {
    return newDecoder("utf-8", true).decode(bytes);
  } catch {
    return undefined;
  }
}

function lineByLine(bytes: Uint8Array): string {
  let text = "";
  for (let from = 0; from < bytes.length;) {
    const end = bytes.subarray(from).findIndex((byte) => byte === 10 || byte === 13);
    const to = end < 0 ? bytes.length : from + end + 1;
    const line = bytes.subarray(from, to);
    text += decoded(line) ?? newDecoder("utf-8", false).decode(line).replaceAll("\uFFFD", NOT_UTF8);
    from = to;
  }
  return text;
}
