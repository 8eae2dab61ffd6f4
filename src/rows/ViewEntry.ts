import { notices } from "../command/index.ts";
import { mayLeave } from "../control/index.ts";
import { follow, platform, type Stoppable } from "../engine/index.ts";
import type { AnyEntry } from "../entry/index.ts";
import { type AnyModel, type KeyOf, say } from "../model/index.ts";
import { titleOfRow, type View } from "../table/index.ts";
import { TableEntry, type TableEntryOptions } from "./TableEntry.ts";

/** Options of an entry that follows a view's current row. */
export interface ViewEntryOptions<M> extends TableEntryOptions<M> {
  /**
   * What happens when another row becomes current while this one is changed: it is saved, and where it can't be it stays
   * (`save`, the default); the person is asked (`ask`); or it stays, and the status line says why (`stay`).
   */
  readonly onLeave?: "save" | "ask" | "stay" | undefined;
}

/** An entry over the current row of a view, whichever that is. */
export class ViewEntry<M extends AnyModel = AnyModel> extends TableEntry<M> {
  readonly #onLeave: "save" | "ask" | "stay";
  readonly #current: Stoppable;
  #asking = false;

  constructor(
    readonly view: View<M>,
    { onLeave = "save", ...options }: ViewEntryOptions<M>,
  ) {
    super(view.table, slotOf(view), options);
    this.#onLeave = onLeave;
    this.#current = follow(
      () => slotOf(view),
      (slot) => this.#moved(slot),
    );
  }

  #moved(slot: number | undefined): void {
    if (slot === this.slot && this.key !== undefined) return;
    // A row that was deleted has nowhere to be saved.
    if (!this.changed || this.key === undefined) return this.goTo(slot);
    switch (this.#onLeave) {
      case "save":
        return this.#saveFirst(slot);
      case "ask":
        return this.#askFirst();
      case "stay":
        notices.say(say(this.locale, "rowChanged", { title: this.#title }), "error");
        this.#stay();
    }
  }

  #saveFirst(slot: number | undefined): void {
    const wanted = this.view.currentKey;
    const committed = this.commit();
    if (!("then" in committed)) {
      if (committed.ok) return this.goTo(slot);
      const { message } = committed.problems[0]!;
      notices.say(say(this.locale, "rowNotSaved", { title: this.#title, reason: message }), "error");
      return this.#stay();
    }
    this.#stay();
    void committed.then(({ ok }) => ok && this.#leaveFor(wanted));
  }

  #askFirst(): void {
    const wanted = this.view.currentKey;
    this.#stay();
    if (this.#asking) return;
    this.#asking = true;
    mayLeave(this as unknown as AnyEntry)
      .then((may) => may && this.#leaveFor(wanted))
      .catch((error: unknown) => platform.report(error))
      .finally(() => (this.#asking = false));
  }

  get #title(): string {
    return titleOfRow(this.table, this.slot!);
  }

  #stay(): void {
    const { key } = this;
    // It may not be in the view any more, as where the view shows other rows now: then there is nothing to go back to.
    if (key !== undefined && this.view.has(key)) this.view.currentKey = key;
  }

  #leaveFor(key: KeyOf<M> | undefined): void {
    if (key === undefined || this.view.has(key)) this.view.currentKey = key;
  }

  override stop(): void {
    this.#current.stop();
    super.stop();
  }
}

function slotOf<M extends AnyModel>(view: View<M>): number | undefined {
  const key = view.currentKey;
  return key === undefined ? undefined : view.table.slotFor(key);
}
