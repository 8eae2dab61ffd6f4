import type { AbortSignalLike } from "../engine/index.ts";
import type { AnyModel } from "../model/index.ts";
import { Keeping } from "./Keeping.ts";
import type { KeptResult } from "./Kept.ts";
import type { KeptRows } from "./KeptRows.ts";
import type { StoreNews } from "./Store.ts";
import type { Differing } from "./Unsaved.ts";

type News = StoreNews<never, never>;

/** Has what is to be written fixed, but for what waits. */
export type Begin = (waits?: (row: Differing<AnyModel>) => boolean) => void;

/** One table of several that are written together: it is never written alone. */
export class KeepingPart extends Keeping<AnyModel> {
  /** Waits for the others before what is to be written is fixed. */
  wait: (begin: Begin) => Promise<void> = () => Promise.resolve();
  writeTogether: (signal: AbortSignalLike | undefined) => Promise<KeptResult> = () => this.writeOwn();
  /** Takes in what the database tells of the table. */
  hear: (news: News) => void = () => undefined;
  /** Says what keeps rows from being saved. */
  announceAll: () => void = () => undefined;
  /** Is told when it is known again how the table is at the place. */
  rested: () => void = () => undefined;

  override write({ signal }: { readonly signal?: AbortSignalLike | undefined } = {}): Promise<KeptResult> {
    return this.writeTogether(signal);
  }

  protected override beginWith(begin: Begin): Promise<void> {
    return this.wait(begin);
  }

  protected override announce(): void {
    this.announceAll();
  }

  get journal(): KeptRows<AnyModel> {
    return this.rows;
  }

  protected override takeHeld(): void {
    super.takeHeld();
    if (!this.isBusy) this.rested();
  }

  writeOwn(signal?: AbortSignalLike): Promise<KeptResult> {
    return super.write({ signal });
  }
}
