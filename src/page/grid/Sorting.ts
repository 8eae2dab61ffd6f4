import { notices } from "../../command/index.ts";
import { follow, platform, type SignalController } from "../../engine/index.ts";
import { sayOfRows } from "../../model/index.ts";
import { type OrderedBy, orderOf, type ViewState } from "../../table/index.ts";

/** More rows than these are sorted in slices. */
const SORTED_AT_ONCE = 20_000;
/** How often a person is told how far it is, in milliseconds. */
const TOLD = 250;

/**
 * Sorts the rows of a grid: very many a slice at a time, so that the page goes on with the order that was there before; how far it is, is
 * said, and Escape ends it.
 */
export class Sorting {
  /** What is being sorted in slices. */
  #abort: SignalController | undefined;
  #wanted: readonly OrderedBy[] = [];
  readonly #view: ViewState;
  /** When the person was told last. */
  #told = 0;

  constructor(view: ViewState) {
    this.#view = view;
  }

  /** The order that is being made, or else is there: who presses a heading twice means both. */
  get order(): readonly OrderedBy[] {
    return this.#abort === undefined ? orderOf(this.#view.orderBy) : this.#wanted;
  }

  /** @param done - called once the rows are sorted */
  sort(order: readonly OrderedBy[], done: () => void): void {
    this.#abort?.abort();
    this.#abort = undefined;
    const view = this.#view;
    const orderBy = order.length === 0 ? undefined : order;
    if (view.length > SORTED_AT_ONCE) return void this.#sortMany(order, done);
    view.orderBy = orderBy;
    done();
  }

  async #sortMany(order: readonly OrderedBy[], done: () => void): Promise<void> {
    const view = this.#view;
    const { locale } = view.table;
    const abort = platform.newController();
    this.#abort = abort;
    this.#wanted = order;
    this.#told = platform.now();
    const told = follow(
      () => view.sorting,
      (part) => this.#tell(part, locale),
    );
    try {
      if (await view.sortBy(order.length === 0 ? undefined : order, { signal: abort.signal })) done();
      else if (abort.signal.aborted && this.#abort === abort) notices.sayNow(sayOfRows(locale, "sortStopped"));
    } finally {
      told.stop();
      if (this.#abort === abort) this.#abort = undefined;
    }
  }

  #tell(part: number | undefined, locale: string): void {
    const now = platform.now();
    if (part === undefined || now - this.#told < TOLD) return;
    this.#told = now;
    const value = new Intl.NumberFormat(locale, { style: "percent" }).format(part);
    notices.sayNow(sayOfRows(locale, "sorting", { value }));
  }

  /** Ends it: the rows stay in the order that is there. @returns whether any were being sorted */
  stop(): boolean {
    const was = this.#abort !== undefined;
    this.#abort?.abort();
    return was;
  }
}
