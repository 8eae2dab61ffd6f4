import { IronwoodError, requireArgument, requireOptions } from "../../errors/index.ts";
import { delayedMirror, dispose, internal, newId, platform, type Stoppable, Value } from "../../engine/index.ts";
import { notices } from "../../command/index.ts";
import type { AnyEntry, EntryState } from "../../entry/index.ts";
import { sayOfKeeping } from "../../model/index.ts";
import { StoreError } from "../Store.ts";
import { type DraftContent, draftFields, readDraft, takeDraft } from "./draftText.ts";
import type { Drafts, StoredDraft } from "./Drafts.ts";

/** Options of {@link keepDraft}. */
export interface DraftOptions {
  /** What the draft is found by: the same for the same kind of form, and for a row that is edited with its key. */
  readonly name: string;
}

/** What was entered and not saved, and is offered. */
export interface OfferedDraft {
  /** When it was begun, and when something was typed last: RFC 9557, in UTC. */
  readonly begun: string;
  readonly changed: string;
  /** What the rows of its model were called; `undefined` where they had no title. */
  readonly model: string | undefined;
  /** The titles of the fields that it has something for. */
  readonly titles: readonly string[];
}

/** What of a draft was not taken, with the reason, for the person. */
export interface NotTaken {
  /** The name of the field. */
  readonly name: string;
  /** A whole sentence. */
  readonly message: string;
}

/** The draft of an entry. Made by {@link keepDraft}. */
export interface Draft extends Stoppable {
  /** Fulfilled when it is known whether something is offered: whether it is. */
  readonly ready: Promise<boolean>;
  /** What an earlier window or program has left; `undefined` where that is nothing, or was taken or dropped. Followed. */
  readonly offered: OfferedDraft | undefined;
  /** Why what is typed can't be kept; `undefined` while it can. Followed. */
  readonly failure: string | undefined;
  /** What a person reads of it: that something is offered, or can't be kept; else a blank text. Followed. */
  readonly said: string;
  /** The language of its entry. */
  readonly locale: string;
  /**
   * Puts what is offered into the entry, as one step to be undone.
   *
   * @returns what the entry can't hold, as where the model has changed
   * @throws `draftGone` when nothing is offered
   */
  take(): readonly NotTaken[];
  /** Forgets what is offered. @throws {@link StoreError} */
  drop(): Promise<void>;
  /** Writes what is typed at once, as when a window is left. */
  write(): Promise<void>;
  /** Of the page: says where the person is, and takes the person there again. */
  readonly [internal]: DraftPlace;
}

/** How the page knows where a person is, and takes the person there again. */
export interface DraftPlace {
  controlNow: (() => string | undefined) | undefined;
  goTo: ((control: string) => void) | undefined;
}

/** So many milliseconds after something was typed it is kept, at the latest. */
const DELAY = 300;

/**
 * Keeps what is typed into an entry and not saved yet, on this machine, and offers it again after a crash, or when the window was closed.
 * Typing does not wait for it. Once the entry is saved or reverted, nothing is kept any more. Fields that are `writeOnly` are no part of it.
 *
 * @param drafts - where: `browserDrafts()`, `fileDrafts(folder)`
 * @throws `wrongType` for what is no entry; `unknownOption`, `wrongOption`
 * @example
 * const draft = keepDraft(note, browserDrafts(), { name: "field note" });
 * bindPage(document, { note, draft: asDraft(draft) });
 */
export function keepDraft(entry: AnyEntry, drafts: Drafts, options: DraftOptions): Draft {
  const state = (entry as Partial<AnyEntry> | null | undefined)?.[internal];
  requireArgument(state !== undefined && "core" in state, "keepDraft", entry, "an entry");
  const isPlace = typeof drafts === "object" && (drafts as unknown) !== null && "hold" in drafts;
  requireArgument(isPlace, "keepDraft", drafts, "a place for drafts, as browserDrafts() gives it");
  requireOptions("keepDraft", options, { name: "text" });
  if (typeof (options as Partial<DraftOptions>).name !== "string" || options.name === "")
    throw new IronwoodError("wrongOption", "keepDraft was given no name", {
      expected: 'a name by which the draft is found again, as { name: "field note" }',
    });
  return new EntryDraft(state as EntryState, drafts, options.name);
}

interface Offer extends StoredDraft {
  readonly content: DraftContent;
}

class EntryDraft implements Draft {
  readonly ready: Promise<boolean>;
  readonly [internal]: DraftPlace = { controlNow: undefined, goTo: undefined };
  readonly #entry: EntryState;
  readonly #drafts: Drafts;
  readonly #name: string;
  readonly #id = newId();
  readonly #offers = new Value<readonly Offer[]>([]);
  readonly #failure = new Value<string | undefined>(undefined);
  readonly #ended = platform.newController();
  #following: Stoppable | undefined;
  #begun: string | undefined;
  /** What is to be written; `undefined` for nothing, which takes away what was written. */
  #content: DraftContent | undefined;
  #written: DraftContent | undefined;
  #lastWrite: Promise<void> = Promise.resolve();
  #isHeld = false;
  /** Taken drafts that are forgotten once their content is in this one. */
  #taken: string[] = [];

  constructor(entry: EntryState, drafts: Drafts, name: string) {
    this.#entry = entry;
    this.#drafts = drafts;
    this.#name = name;
    this.ready = this.#find();
    this.#following = delayedMirror(() => this.#look(), DELAY, "a draft");
  }

  async #find(): Promise<boolean> {
    try {
      const found = await this.#drafts.list(this.#name);
      // Held from the start: when a window is left there is time for one write, and no more.
      await this.#hold();
      if (this.#ended.signal.aborted) return false;
      const offers = found.flatMap((each) => {
        const content = readDraft(each.text);
        return content === undefined || each.id === this.#id ? [] : [{ ...each, content }];
      });
      // The newest first.
      offers.sort((a, b) => Date.parse(b.content.changed) - Date.parse(a.content.changed));
      this.#offers.write(offers);
    } catch (error) {
      this.#fail(error);
    }
    return this.#offers.peek().length > 0;
  }

  get offered(): OfferedDraft | undefined {
    const [first] = this.#offers.read();
    if (first === undefined) return undefined;
    const { begun, changed, model, fields } = first.content;
    return { begun, changed, model, titles: Object.values(fields).map(({ title }) => title) };
  }

  get failure(): string | undefined {
    return this.#failure.read();
  }

  get locale(): string {
    return this.#entry.core.locale;
  }

  get said(): string {
    const { failure, offered, locale } = this;
    if (offered === undefined)
      return failure === undefined ? "" : sayOfKeeping(locale, "draftFailed", { reason: failure });
    const format = new Intl.DateTimeFormat(locale, { dateStyle: "long", timeStyle: "short" });
    return sayOfKeeping(locale, "draftOffered", { value: format.format(new Date(offered.changed)) });
  }

  take(): readonly NotTaken[] {
    const offer = this.#require("take");
    const { locale } = this;
    const leftOut = takeDraft(this.#entry, offer.content, () => sayOfKeeping(this.locale, "draftTake"));
    this.#offers.write(this.#offers.peek().slice(1));
    this.#begun = offer.content.begun;
    this.#taken.push(offer.id);
    this.#look();
    notices.say(sayOfKeeping(locale, "draftTaken"));
    const { control } = offer.content;
    if (control !== undefined) this[internal].goTo?.(control);
    const names = { noField: "draftNoField", otherValue: "draftOtherValue", file: "draftFile" } as const;
    const told = leftOut.map(({ name, title, value, reason }) => ({
      name,
      message: sayOfKeeping(locale, "draftLeftOut", {
        reason: sayOfKeeping(locale, names[reason], { title, value }),
      }),
    }));
    for (const { message } of told) notices.say(message, "warning");
    return told;
  }

  async drop(): Promise<void> {
    const { id } = this.#require("drop");
    await this.#drafts.remove(this.#name, id);
    this.#offers.write(this.#offers.peek().filter((each) => each.id !== id));
    notices.say(sayOfKeeping(this.locale, "draftDropped"));
  }

  #require(call: string): Offer {
    const [offer] = this.#offers.peek();
    if (offer !== undefined) return offer;
    throw new IronwoodError("draftGone", `${call} was called, and no draft is offered`, {
      where: `the draft "${this.#name}"`,
      expected: "draft.offered to be looked at before",
    });
  }

  /** Looks at what was typed, and has it written. */
  #look(): void {
    const fields = draftFields(this.#entry);
    const { core } = this.#entry;
    const now = new Date(platform.now()).toISOString();
    this.#begun = fields === undefined ? undefined : (this.#begun ?? now);
    this.#content = fields && {
      model: core.model.title,
      begun: this.#begun!,
      changed: now,
      locale: core.locale,
      fields,
      control: this[internal].controlNow?.(),
    };
    void this.#writeSoon();
  }

  #writeSoon(): Promise<void> {
    // One write after the other: what is typed meanwhile is in the next.
    this.#lastWrite = this.#lastWrite.then(() => this.#writeAll());
    return this.#lastWrite;
  }

  async #writeAll(): Promise<void> {
    try {
      const content = this.#content;
      if (content !== this.#written) {
        if (content === undefined) await this.#drafts.remove(this.#name, this.#id);
        else {
          if (!this.#isHeld) await this.#hold();
          await this.#drafts.write(this.#name, { id: this.#id, text: JSON.stringify(content) });
        }
        this.#written = content;
        for (const id of this.#taken.splice(0)) await this.#drafts.remove(this.#name, id);
      }
      this.#failure.write(undefined);
    } catch (error) {
      this.#fail(error);
    }
  }

  async #hold(): Promise<void> {
    await this.#drafts.hold(this.#name, this.#id, { signal: this.#ended.signal });
    this.#isHeld = true;
  }

  #fail(error: unknown): void {
    const isOfPlace = error instanceof StoreError;
    if (!isOfPlace) platform.report(error);
    const before = this.#failure.peek();
    this.#failure.write(isOfPlace ? error.message : String(error));
    if (before === undefined && this.offered === undefined) notices.say(this.said, "warning");
  }

  async write(): Promise<void> {
    if (this.#ended.signal.aborted) return;
    this.#look();
    await this.#writeSoon();
  }

  stop(): void {
    this.#following?.stop();
    this.#following = undefined;
    this.#ended.abort();
  }

  [dispose](): void {
    this.stop();
  }
}
