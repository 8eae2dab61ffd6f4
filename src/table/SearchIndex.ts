import { platform } from "../engine/index.ts";
import type { AnyKind, AnyModel } from "../model/index.ts";
import { Readings } from "./Readings.ts";
import { SlotSet } from "./SlotSet.ts";
import type { TableState } from "./TableState.ts";

/** Text without case and accents, and with one small sigma of the two. What is of ASCII has none of them. */
const fold = (text: string): string =>
  // eslint-disable-next-line no-control-regex
  /^[\x00-\x7f]*$/.test(text)
    ? text.toLowerCase()
    : text.normalize("NFD").replace(/\p{M}/gu, "").toLowerCase().replaceAll("ς", "σ");

/** The words that are searched for. */
export const wordsOf = (search: string): readonly string[] =>
  fold(search)
    .split(/\s+/)
    .filter((word) => word !== "");

/** A field with so many different texts at most has each of them looked at once, whatever the number of rows. */
const FEW = 4096;
/** The results of so many words are kept: a key that is taken back costs nothing. */
const KEPT = 24;

/** So many rows have their texts written into one; their bits in a set are whole bytes. */
const ROWS = 64;
const BYTES = ROWS / 8;
const BETWEEN_FIELDS = "\u0000";
const BETWEEN_ROWS = "\u0001";

/** Whether there are rows of a page that could still be found. */
function isLeft(bits: Uint8Array, candidates: Uint8Array | undefined, from: number): boolean {
  for (let index = from; index < from + BYTES && index < bits.length; index++) {
    const all = candidates === undefined ? 0xff : (candidates[index] ?? 0);
    if ((all & ~bits[index]!) !== 0) return true;
  }
  return false;
}

/** A field whose rows share few texts: which of them each has. */
interface Shared {
  readonly name: string;
  readonly numbers: Map<string, number>;
  readonly texts: string[];
  ids: Uint16Array;
}

/**
 * Finds rows by words in what people see of some fields. It is made when somebody first searches, or in the pauses of a page
 * before; from then on it follows each change. Of a longer word only the rows of the shorter one are looked at.
 */
export class SearchIndex<M extends AnyModel = AnyModel> {
  readonly #words = new Map<string, SlotSet>();
  #shared: Shared[] = [];
  #names: string[] = [];
  /** The folded texts of all other fields of some rows at a time, and where in it each row begins. */
  #pages: string[] = [];
  #starts = new Uint32Array(0);
  #built = 0;
  #read = -1;
  #loads = -1;
  /** What calculated fields have read beside the rows. */
  #readings = new Readings();
  /** How often it was begun anew: what was found before is no part of what is found now. */
  begun = 0;
  readonly #table: TableState<M>;
  readonly #fields: readonly string[];

  constructor(table: TableState<M>, fields: readonly string[]) {
    this.#table = table;
    this.#fields = fields;
  }

  /** The slots of the rows that have all words. It is of now: it may be changed when the table is. */
  found(words: readonly string[]): SlotSet {
    this.catchUp();
    // What was read beside the rows is followed from now on.
    this.#readings.track();
    const sets = words.map((word) => this.#setFor(word));
    if (sets.length === 1) return sets[0]!;
    const bits = sets[0]!.bits.slice();
    for (const set of sets) for (let index = 0; index < bits.length; index++) bits[index]! &= set.bits[index] ?? 0;
    return new SlotSet(bits);
  }

  /** Makes it ready for a while. @param until - the time of the clock to stop at. @returns whether it is ready */
  prepare(until = Infinity): boolean {
    const table = this.#table;
    this.#beginIfNeeded();
    const { slots } = table;
    while (this.#built < slots) {
      const page = Math.floor(this.#built / ROWS);
      this.#take(page);
      this.#built = Math.min(slots, (page + 1) * ROWS);
      if (this.#built < slots && (page & 15) === 15 && platform.now() >= until) return false;
    }
    return true;
  }

  /** How much of it is ready, from 0 to 1. */
  get part(): number {
    const { slots } = this.#table;
    return slots === 0 ? 1 : this.#built / slots;
  }

  #beginIfNeeded(): void {
    if (this.#loads !== this.#table.loads || !this.#readings.areCurrent) this.#beginAnew();
  }

  #beginAnew(): void {
    this.begun++;
    this.#readings = new Readings();
    this.#loads = this.#table.loads;
    this.#read = this.#table.log.end;
    this.#words.clear();
    this.#pages = [];
    this.#starts = new Uint32Array(this.#table.slots);
    this.#built = 0;
    this.#names = [];
    // Each field is taken to have few texts until it has many.
    this.#shared = this.#fields.map((name) => ({
      name,
      numbers: new Map([["", 0]]),
      texts: [""],
      ids: new Uint16Array(this.#table.slots),
    }));
  }

  catchUp(): void {
    const { log } = this.#table;
    this.#beginIfNeeded();
    const changed = log.since(this.#read);
    if (changed === undefined) this.#beginAnew();
    else if (changed.size > 0) {
      const old = [...changed.keys()].filter((slot) => slot < this.#built);
      for (const page of new Set(old.map((slot) => Math.floor(slot / ROWS)))) this.#take(page);
      for (const [word, set] of this.#words) for (const slot of old) this.#again(slot, word, set);
    }
    this.#read = log.end;
    const before = this.#built;
    this.prepare();
    for (const [word, set] of this.#words)
      for (let slot = before; slot < this.#built; slot++) if (this.#matches(slot, word)) set.add(slot);
  }

  #again(slot: number, word: string, set: SlotSet): void {
    const is = this.#matches(slot, word);
    if (is === set.has(slot)) return;
    if (is) set.add(slot);
    else set.delete(slot);
  }

  #take(page: number): void {
    this.#readings.run(() => this.#note(page));
  }

  /** Takes in the rows of one page of the index as they are now. */
  #note(page: number): void {
    const table = this.#table;
    const from = page * ROWS;
    const to = Math.min(table.slots, from + ROWS);
    for (let slot = from; slot < to; slot++) this.#noteShared(slot);
    this.#write(page, from, to);
  }

  #noteShared(slot: number): void {
    const row = this.#table.rowAt(slot);
    for (let number = this.#shared.length - 1; number >= 0; number--) {
      const shared = this.#shared[number]!;
      const text = row === undefined ? "" : this.#shown(row, shared.name);
      let id = shared.numbers.get(text);
      if (id === undefined) {
        if (shared.texts.length >= FEW) {
          this.#unshare(shared);
          continue;
        }
        id = shared.texts.length;
        shared.numbers.set(text, id);
        shared.texts.push(fold(text));
      }
      if (slot >= shared.ids.length) {
        const more = new Uint16Array(slot + (slot >> 1) + 16);
        more.set(shared.ids);
        shared.ids = more;
      }
      shared.ids[slot] = id;
    }
  }

  /** A field has too many distinct texts: from now on the index stores the text of each row, also for the rows so far. */
  #unshare(shared: Shared): void {
    this.#shared = this.#shared.filter((each) => each !== shared);
    this.#names.push(shared.name);
    const { slots } = this.#table;
    for (let page = 0; page < Math.ceil(this.#built / ROWS); page++)
      this.#write(page, page * ROWS, Math.min(slots, (page + 1) * ROWS));
  }

  /** Writes the texts of a page into one, folded at once: a million small texts would be a million things to collect. */
  #write(page: number, from: number, to: number): void {
    if (this.#names.length === 0) return;
    const texts: string[] = [];
    for (let slot = from; slot < to; slot++) texts.push(this.#ownText(this.#table.rowAt(slot)));
    const whole = fold(texts.join(BETWEEN_ROWS));
    if (to > this.#starts.length) {
      const more = new Uint32Array(Math.max(this.#table.slots, to + (to >> 1)));
      more.set(this.#starts);
      this.#starts = more;
    }
    for (let slot = from, start = 0; slot < to; slot++) {
      this.#starts[slot] = start;
      start = whole.indexOf(BETWEEN_ROWS, start) + 1;
    }
    this.#pages[page] = whole;
  }

  #ownText(row: unknown): string {
    if (row === undefined) return "";
    let text = "";
    for (const name of this.#names) text += `${this.#shown(row, name)}${BETWEEN_FIELDS}`;
    // Nobody types these signs; a row that has them must not seem to be two.
    return text.includes(BETWEEN_ROWS) ? text.replaceAll(BETWEEN_ROWS, " ") : text;
  }

  #matches(slot: number, word: string): boolean {
    for (const { ids, texts } of this.#shared) if (texts[ids[slot]!]!.includes(word)) return true;
    const page = this.#pages[Math.floor(slot / ROWS)];
    if (page === undefined) return false;
    const start = this.#starts[slot]!;
    const end = page.indexOf(BETWEEN_ROWS, start);
    return page.slice(start, end < 0 ? undefined : end).includes(word);
  }

  #setFor(word: string): SlotSet {
    let set = this.#words.get(word);
    if (set === undefined) set = this.#find(word, this.#narrowest(word));
    // The last that was asked for is the last to go.
    this.#words.delete(word);
    this.#words.set(word, set);
    if (this.#words.size > KEPT) this.#words.delete(this.#words.keys().next().value!);
    return set;
  }

  /** Of the words that are known and in this one, that with the fewest rows. */
  #narrowest(word: string): SlotSet | undefined {
    let best: SlotSet | undefined;
    for (const [known, set] of this.#words)
      if (word.includes(known) && (best === undefined || set.size < best.size)) best = set;
    return best;
  }

  #find(word: string, among: SlotSet | undefined): SlotSet {
    const bits = new Uint8Array((this.#built >> 3) + 1);
    for (const { ids, texts } of this.#shared) {
      const hits = Uint8Array.from(texts, (text) => (text.includes(word) ? 1 : 0));
      // What no text of a field has need not be looked up for each row.
      if (!hits.includes(1)) continue;
      for (let slot = 0; slot < this.#built; slot++) if (hits[ids[slot]!] === 1) bits[slot >> 3]! |= 1 << (slot & 7);
    }
    const candidates = among?.bits;
    for (let page = 0; page < this.#pages.length; page++)
      if (isLeft(bits, candidates, page * BYTES)) this.#findInPage(page, word, bits);
    if (candidates !== undefined)
      for (let index = 0; index < bits.length; index++) bits[index]! &= candidates[index] ?? 0;
    return new SlotSet(bits);
  }

  #findInPage(page: number, word: string, bits: Uint8Array): void {
    const text = this.#pages[page]!;
    const starts = this.#starts;
    const end = Math.min(this.#built, (page + 1) * ROWS);
    let slot = page * ROWS;
    for (let at = text.indexOf(word); at >= 0;) {
      while (slot + 1 < end && starts[slot + 1]! <= at) slot++;
      bits[slot >> 3]! |= 1 << (slot & 7);
      if (++slot >= end) return;
      at = text.indexOf(word, starts[slot]);
    }
  }

  #shown(row: unknown, name: string): string {
    const value = this.#table.valueOf(row as never, name);
    if (typeof value === "string" && this.#kind(name)?.kind === "text") return value;
    return this.#table.show(this.#kind(name), value);
  }

  #kind(name: string): AnyKind | undefined {
    return this.#table.model.kindOf(name);
  }
}
