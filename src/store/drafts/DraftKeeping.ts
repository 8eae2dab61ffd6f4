import { IronwoodError } from "../../errors/index.ts";
import { delayedMirror, dispose, internal, newId, platform, type Stoppable, Value } from "../../engine/index.ts";
import { notices } from "../../command/index.ts";
import { sayOfKeeping } from "../../model/index.ts";
import { StoreError } from "../Store.ts";
import type { Draft, DraftPlace, DraftSource, DraftText, NotTaken, OfferedDraft } from "./Draft.ts";
import type { Drafts, StoredDraft } from "./Drafts.ts";

interface Offer<C> extends StoredDraft {
  readonly draft: DraftText<C>;
}

/** So many milliseconds after something was typed it is kept, at the latest. */
const DELAY = 300;

/** What of something is not saved, kept as a draft: written while it changes, offered, taken, and dropped. */
export class DraftKeeping<C> implements Draft {
  readonly ready: Promise<boolean>;
  readonly [internal]: DraftPlace = { controlNow: undefined, goTo: undefined };
  readonly #source: DraftSource<C>;
  readonly #drafts: Drafts;
  readonly #name: string;
  readonly #id = newId();
  readonly #offers = new Value<readonly Offer<C>[]>([]);
  readonly #failure = new Value<string | undefined>(undefined);
  readonly #ended = platform.newController();
  #following: Stoppable | undefined;
  #begun: string | undefined;
  /** What is to be written; `undefined` for nothing, which takes away what was written. */
  #content: DraftText<C> | undefined;
  #written: DraftText<C> | undefined;
  #lastWrite: Promise<void> = Promise.resolve();
  #isHeld = false;
  /** Taken drafts that are forgotten once their content is in this one. */
  #taken: string[] = [];

  constructor(source: DraftSource<C>, drafts: Drafts, name: string) {
    this.#source = source;
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
        const draft = readDraft(this.#source, each.text);
        return draft === undefined || each.id === this.#id ? [] : [{ ...each, draft }];
      });
      for (const each of offers.filter(({ draft }) => this.#source.isSaved?.(draft.content) === true)) {
        offers.splice(offers.indexOf(each), 1);
        await this.#drafts.remove(this.#name, each.id);
      }
      // The newest first.
      // Of the same moment, the one that was written last.
      offers.reverse().sort((a, b) => Date.parse(b.draft.changed) - Date.parse(a.draft.changed));
      this.#offers.write(offers);
    } catch (error) {
      this.#fail(error);
    }
    return this.#offers.peek().length > 0;
  }

  get offered(): OfferedDraft | undefined {
    const [first] = this.#offers.read();
    if (first === undefined) return undefined;
    const { begun, changed, model, content } = first.draft;
    return { begun, changed, model, titles: this.#source.titles(content) };
  }

  get failure(): string | undefined {
    return this.#failure.read();
  }

  get locale(): string {
    return this.#source.locale;
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
    const told = this.#source.take(offer.draft);
    this.#offers.write(this.#offers.peek().slice(1));
    this.#begun = offer.draft.begun;
    this.#taken.push(offer.id);
    this.#look();
    notices.say(sayOfKeeping(this.locale, "draftTaken"));
    const { control } = offer.draft;
    if (control !== undefined) this[internal].goTo?.(control);
    for (const { message } of told) notices.say(message, "warning");
    return told;
  }

  async drop(): Promise<void> {
    const { id } = this.#require("drop");
    await this.#drafts.remove(this.#name, id);
    this.#offers.write(this.#offers.peek().filter((each) => each.id !== id));
    notices.say(sayOfKeeping(this.locale, "draftDropped"));
  }

  #require(call: string): Offer<C> {
    const [offer] = this.#offers.peek();
    if (offer !== undefined) return offer;
    throw new IronwoodError("draftGone", `${call} was called, and no draft is offered`, {
      where: `the draft "${this.#name}"`,
      expected: "draft.offered to be looked at before",
    });
  }

  /** Looks at what was typed, and has it written. */
  #look(): void {
    const content = this.#source.read();
    const now = new Date(platform.now()).toISOString();
    this.#begun = content === undefined ? undefined : (this.#begun ?? now);
    this.#content = content && {
      model: this.#source.model,
      begun: this.#begun!,
      changed: now,
      locale: this.locale,
      content,
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
        this.#failure.write(undefined);
      }
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
    const content = this.#content;
    if (content !== undefined && content !== this.#written)
      this.#drafts.writeNow?.(this.#name, { id: this.#id, text: JSON.stringify(content) });
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

/** A draft from its text; `undefined` for what is none. */
function readDraft<C>(source: DraftSource<C>, text: string): DraftText<C> | undefined {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    return undefined;
  }
  const { begun, changed, locale, content } = (json ?? {}) as Partial<DraftText<C>>;
  const isDraft = [begun, changed, locale].every((each) => typeof each === "string") && source.isContent(content);
  return isDraft && !Number.isNaN(Date.parse(changed!)) ? (json as DraftText<C>) : undefined;
}
