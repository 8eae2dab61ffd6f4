import { type AnyModel, type KeyOf, sayOfRows } from "../model/index.ts";
import { follow, internal, platform, type Stoppable } from "../engine/index.ts";
import { type EntryState, FieldState, FOLLOWING } from "../entry/index.ts";
import type { View, ViewState } from "../table/index.ts";
import { adopt, isLeftOpen, openEntryAt } from "./openEntries.ts";
import { saysGoneEntered, saysGoneHere } from "./saysOfGone.ts";
import { TableEntryState } from "./TableEntryState.ts";
import type { ViewEntryOptions } from "./ViewEntry.ts";

/** How a person is asked and told about a row that is left; it is handed in, since rows know of no status line and no dialog. */
export interface Leaving {
  /** @returns whether the entry may be left: everything is saved, or was given up */
  // eslint-disable-next-line @typescript-eslint/no-explicit-any -- an entry of any model
  mayLeave(entry: EntryState<any>): Promise<boolean>;
  /** Says why a row can't be left. */
  say(text: string): void;
}

/** What is behind a `ViewEntry`. */
export class ViewEntryState<M extends AnyModel = AnyModel> extends TableEntryState<M> {
  readonly #onLeave: "save" | "ask" | "stay";
  readonly #current: Stoppable;
  #asking = false;
  /** Whether the person knows that the row is gone. */
  #isGone = false;
  #reverting: Stoppable | undefined;
  readonly #leaving: Leaving;

  constructor(
    readonly view: View<M>,
    { onLeave = "save", ...options }: ViewEntryOptions<M>,
    leaving: Leaving,
  ) {
    const state = view[internal] as ViewState<M>;
    super(state.table, state.currentSlot, options);
    this.#leaving = leaving;
    this.#onLeave = onLeave;
    this.#current = follow(
      () => state.currentSlot,
      (slot) => this.#moved(slot),
    );
    if (this.#leftOpenAt(this.slot) !== undefined) this.goTo(this.slot);
  }

  /** An entry over a row that was left open with something typed in it. */
  #leftOpenAt(slot: number | undefined): TableEntryState | undefined {
    const entry = slot === undefined ? undefined : openEntryAt(this.table as never, slot);
    return entry !== undefined && isLeftOpen(entry) ? entry : undefined;
  }

  #moved(slot: number | undefined): void {
    if (slot === this.slot && this.key !== undefined) return;
    if (!this.changed) return this.goTo(slot);
    // A row that was deleted has nowhere to be saved.
    if (this.key === undefined) return this.#leaveGone(slot);
    switch (this.#onLeave) {
      case "save":
        return this.#saveFirst(slot);
      case "ask":
        return this.#askFirst();
      case "stay":
        this.#leaving.say(sayOfRows(this.locale, "rowChanged", { title: this.#title }));
        this.#stay();
    }
  }

  /**
   * Others have deleted the row in which a person has entered something. It stays until the person chooses a row or takes back what was
   * entered, so that nothing of it comes into the next row.
   */
  #leaveGone(slot: number | undefined): void {
    if (this.#isGone) {
      this.#leaving.say(saysGoneEntered(this));
      return this.goTo(slot);
    }
    this.#isGone = true;
    this.#leaving.say(saysGoneHere(this));
    this.#reverting = follow(
      () => this.changed && this.key === undefined,
      (isGone) => {
        if (!isGone) this.goTo(this.key === undefined ? (this.view[internal] as ViewState<M>).currentSlot : this.slot);
      },
    );
  }

  protected override goTo(slot: number | undefined): void {
    this.#reverting?.stop();
    this.#reverting = undefined;
    this.#isGone = false;
    const left = this.#leftOpenAt(slot);
    if (left !== undefined) {
      adopt(left);
      left.stop();
    }
    super.goTo(slot);
    if (left !== undefined) enterAgain(left, this as never);
  }

  #saveFirst(slot: number | undefined): void {
    const wanted = this.view.currentKey;
    const committed = this.commit();
    if (!("then" in committed)) {
      if (committed.ok) return this.goTo(slot);
      this.#sayWhy(committed.problems[0]!.message);
      return this.#stay();
    }
    this.#stay();
    void committed.then((result) => {
      if (result.ok) this.#leaveFor(wanted);
      else this.#sayWhy(result.problems[0]!.message);
    });
  }

  #sayWhy(reason: string): void {
    this.#leaving.say(sayOfRows(this.locale, "rowNotSaved", { title: this.#title, reason }));
  }

  #askFirst(): void {
    const wanted = this.view.currentKey;
    this.#stay();
    if (this.#asking) return;
    this.#asking = true;
    this.#leaving
      .mayLeave(this)
      .then((may) => {
        if (may) this.#leaveFor(wanted);
      })
      .catch((error: unknown) => platform.report(error))
      .finally(() => {
        this.#asking = false;
      });
  }

  get #title(): string {
    return this.table.titleAt(this.slot!);
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
    this.#reverting?.stop();
    super.stop();
  }
}

/** Enters what was typed in one entry into another over the same row. */
function enterAgain(from: EntryState, into: EntryState): void {
  for (const { name, changed, held } of from.core.fieldsInUse()) {
    const field = into.core.field(name);
    if (!changed || !(field instanceof FieldState) || held === FOLLOWING) continue;
    if (held.text === undefined) field.value = held.value;
    else field.enter(held.text);
  }
}
