import { notices } from "../../command/index.ts";
import { platform } from "../../engine/index.ts";
import { type RowsMessage, type MessageFacts, sayOfRows } from "../../model/index.ts";
import { handOrderOf, reorderRows } from "../../rows/index.ts";
import { titleOfRow } from "../../table/index.ts";
import { toggleAttribute } from "../dom.ts";
import type { GridStage } from "./GridStage.ts";

/** So far a pointer moves before a press on a row is a movement of the row, in CSS pixels. */
const SLOP = 5;
/** So near to an edge of the window the rows scroll under a row that is moved, and so far each time. */
const EDGE = 28;
const SCROLLED = 16;

const keys = "Alt+ArrowUp Alt+ArrowDown";

/** Where a row that is moved would go: before another one, or last. */
interface Drop {
  readonly element: HTMLElement;
  readonly slot: number | undefined;
}

/** The order of rows that people choose: by Alt with arrows, and by moving a row at its mark. */
export class RowOrder {
  #end = (): void => {};
  readonly #stage: GridStage;
  readonly #name: string;
  readonly #whyLocked: () => string | undefined;
  readonly #done: () => void;

  /**
   * @param name - the field that holds the order
   * @param whyLocked - why nothing may be changed now
   */
  constructor(stage: GridStage, name: string, whyLocked: () => string | undefined, done: () => void) {
    this.#stage = stage;
    this.#name = name;
    this.#whyLocked = whyLocked;
    this.#done = done;
    stage.body.element.addEventListener("pointerdown", this.#press);
    stage.window.dataset["reorders"] = "";
    stage.table.setAttribute("aria-keyshortcuts", keys);
  }

  #tell(name: RowsMessage, facts: MessageFacts): void {
    notices.sayNow(sayOfRows(this.#stage.view.table.locale, name, facts));
  }

  /** Whether rows can be put in order now; why not is said. */
  #isReady(): boolean {
    const { view } = this.#stage;
    const name = this.#name;
    const why =
      this.#whyLocked() ??
      (handOrderOf(view)?.name !== name
        ? sayOfRows(view.table.locale, "sortFirst", { title: view.table.model.titleOf(name, view.table.locale) })
        : undefined);
    if (why !== undefined) notices.sayNow(why, "error");
    return why === undefined;
  }

  /** What moves with a row: all that is selected, if it is among that. */
  #together(key: unknown): readonly unknown[] {
    const { view } = this.#stage;
    const slot = view.table.slotFor(key);
    return slot !== undefined && view.isSelectedAt(slot) ? view.selectedKeys : [key];
  }

  /** Moves a row, and what is selected with it, one place up or down. */
  move(key: unknown, by: number): void {
    if (key === undefined || !this.#isReady()) return;
    const { view } = this.#stage;
    const moved = this.#together(key);
    const places = moved.map((each) => view.placeOf(each));
    const to = by < 0 ? Math.min(...places) - 1 : Math.max(...places) + 2;
    if (to < 0 || to > view.length) return;
    this.#put(key, moved, view.keys(to, to + 1)[0]);
  }

  #put(key: unknown, moved: readonly unknown[], before: unknown): void {
    const { view } = this.#stage;
    const { table } = view;
    const result = reorderRows(view, moved, before);
    if (!result.ok) {
      notices.sayNow(result.problems.map(({ message }) => message).join(" "), "error");
      return;
    }
    const place = new Intl.NumberFormat(table.locale).format(view.placeOf(key) + 1);
    this.#tell("rowWent", { title: titleOfRow(table, table.slotFor(key)!), place });
    this.#done();
  }

  readonly #press = (event: PointerEvent): void => {
    const row = this.#stage.body.rowOf(event.target as Element);
    if (row === undefined || event.button !== 0 || (event.target as Element).closest("td") !== row.mark) return;
    const { table } = this.#stage.view;
    const key = table.keyAt(row.slot);
    const { clientY: start, pointerId } = event;
    const body = this.#stage.body.element;
    let drop: Drop | undefined;
    let moving = false;
    let y = start;
    const show = (): void => {
      drop?.element.removeAttribute("data-drop");
      drop = this.#dropAt(y);
    };
    const move = (next: PointerEvent): void => {
      y = next.clientY;
      if (!moving && Math.abs(y - start) > SLOP) {
        moving = this.#isReady();
        if (!moving) return this.#end();
        body.setPointerCapture(pointerId);
        toggleAttribute(this.#stage.window, "data-moving", "");
        scrolling = this.#scrollWhile(() => y, show);
      }
      if (moving) show();
    };
    let scrolling = (): void => {};
    const up = (): void => {
      const to = drop;
      const was = moving;
      this.#end();
      if (!was || to === undefined) return;
      // The press that moved a row is no press on its mark.
      body.addEventListener("click", swallow, { capture: true, once: true });
      platform.after(0, () => body.removeEventListener("click", swallow, true));
      this.#put(key, this.#together(key), to.slot === undefined ? undefined : table.keyAt(to.slot));
    };
    const escape = ({ key: pressed }: KeyboardEvent): void => {
      if (pressed === "Escape") this.#end();
    };
    this.#end();
    this.#end = () => {
      this.#end = () => {};
      scrolling();
      drop?.element.removeAttribute("data-drop");
      this.#stage.window.removeAttribute("data-moving");
      body.removeEventListener("pointermove", move);
      body.removeEventListener("pointerup", up);
      body.removeEventListener("pointercancel", this.#cancel);
      body.ownerDocument.removeEventListener("keydown", escape, true);
    };
    body.addEventListener("pointermove", move);
    body.addEventListener("pointerup", up);
    body.addEventListener("pointercancel", this.#cancel);
    body.ownerDocument.addEventListener("keydown", escape, true);
  };

  readonly #cancel = (): void => this.#end();

  /** Marks where a row would go if it were let go now. */
  #dropAt(y: number): Drop | undefined {
    const { rows } = this.#stage.body;
    for (const { element, slot } of rows) {
      const { top, height } = element.getBoundingClientRect();
      if (y >= top + height / 2) continue;
      element.dataset["drop"] = "before";
      return { element, slot };
    }
    const last = rows.at(-1);
    if (last === undefined) return undefined;
    const { view } = this.#stage;
    const place = view.placeOf(view.table.keyAt(last.slot)) + 1;
    last.element.dataset["drop"] = "after";
    return { element: last.element, slot: view.slots(place, place + 1)[0] };
  }

  /** Near an edge the rows scroll on, also while the pointer rests. @returns what ends it */
  #scrollWhile(y: () => number, moved: () => void): () => void {
    const { window } = this.#stage;
    const timer = setInterval(() => {
      const { top, bottom } = window.getBoundingClientRect();
      const isAbove = y() < top + EDGE + this.#stage.head.height;
      const isBelow = !isAbove && y() > bottom - EDGE;
      const by = SCROLLED * (Number(isBelow) - Number(isAbove));
      if (by === 0) return;
      window.scrollTop += by;
      moved();
    }, 30);
    return () => clearInterval(timer);
  }

  stop(): void {
    this.#end();
    this.#stage.body.element.removeEventListener("pointerdown", this.#press);
    delete this.#stage.window.dataset["reorders"];
    this.#stage.table.removeAttribute("aria-keyshortcuts");
  }
}

const swallow = (event: Event): void => event.stopImmediatePropagation();
