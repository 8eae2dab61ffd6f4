import { notices } from "../../command/index.ts";
import { platform, type SignalController } from "../../engine/index.ts";
import { sayOfRows } from "../../model/index.ts";
import { cellsOf, endOfRows, writeRow } from "../../rows/index.ts";
import type { ViewState } from "../../table/index.ts";

/** More rows than these are written in slices. */
export const COPIED_AT_ONCE = 2_000;
/** So many rows are written before it is looked how long that took. */
const SLICE = 200;
/** How long a slice may take, in milliseconds: a page that does more in one go is felt to stand still. */
const MOMENT = 16;
/** How often a person is told how far it is, in milliseconds. */
const TOLD = 250;

const pause = (): Promise<void> => new Promise((done) => platform.after(0, done));

/**
 * Copies very many rows as text, a slice at a time, so that the page goes on; how far it is, is said, and Escape ends it. A table for
 * documents is not written: none takes so many rows.
 */
export class CopyingMany {
  readonly #abort: SignalController = platform.newController();
  readonly #view: ViewState;
  readonly #rows: readonly object[];
  readonly #names: readonly string[];

  constructor(view: ViewState, names: readonly string[]) {
    this.#view = view;
    this.#rows = view.selected;
    this.#names = names;
  }

  /** Ends it: nothing is copied. */
  stop(): void {
    this.#abort.abort();
  }

  /** @param clipboard - where the page may not use one, the person is told so */
  async run(clipboard: Clipboard | undefined): Promise<void> {
    const { locale } = this.#view.table;
    const count = this.#rows.length;
    if (clipboard === undefined) {
      notices.sayNow(sayOfRows(locale, "notCopied"), "error");
      return;
    }
    try {
      const text = this.#text().then((written) => new Blob(written, { type: "text/plain" }));
      // The text comes later: the press by which a page may write must not be over by then.
      await Promise.all([text, clipboard.write([new ClipboardItem({ "text/plain": text })])]);
      notices.sayNow(sayOfRows(locale, "copied", { count }));
    } catch {
      if (this.#abort.signal.aborted) notices.sayNow(sayOfRows(locale, "copyStopped"));
      else notices.sayNow(sayOfRows(locale, "notCopied"), "error");
    }
  }

  /** @returns the text in parts: one of all would take as long at the end as all of them before */
  async #text(): Promise<string[]> {
    const { locale } = this.#view.table;
    const percent = new Intl.NumberFormat(locale, { style: "percent" });
    const written: string[] = [];
    let last: string | undefined;
    let since = platform.now();
    let told = since;
    for (let from = 0; from < this.#rows.length; from += SLICE) {
      const slice = this.#rows.slice(from, from + SLICE);
      const rows = cellsOf(this.#view as never, slice as never, this.#names).map(writeRow);
      written.push(from === 0 ? "" : "\n", rows.join("\n"));
      last = rows.at(-1);
      const now = platform.now();
      if (now - since < MOMENT) continue;
      if (now - told >= TOLD) {
        told = now;
        notices.sayNow(sayOfRows(locale, "copying", { value: percent.format(from / this.#rows.length) }));
      }
      await pause();
      if (this.#abort.signal.aborted) throw this.#abort.signal.reason;
      since = platform.now();
    }
    return [...written, endOfRows(this.#rows.length, last)];
  }
}
