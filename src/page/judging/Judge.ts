import type { Stoppable } from "../../engine/index.ts";
import type { EntryState } from "../../entry/index.ts";
import type { Verdict } from "../../markup/index.ts";
import type { AnyModel } from "../../model/index.ts";
import type { SortedThings } from "../pageThings.ts";
import type { Survey } from "../survey.ts";

/** Judges what comes into a page, from `begin()` until it is stopped. */
export interface LaterJudging extends Stoppable {
  /** Is called when the page has been bound: what came until then was judged. */
  begin(): void;
}

/** What finds out, before anything is bound, whether a page agrees with what it is bound to, and says so in words. */
export interface Judge {
  /** Reports what does not agree, all at once. @throws `page` where it is strict */
  report(verdicts: readonly Verdict[], strict: boolean | undefined): void;
  /** Judges a page by everything that it is bound to. */
  ofPage(root: ParentNode, forms: readonly Survey[], things: SortedThings): readonly Verdict[];
  /** Judges one form by the model of its entry. */
  ofForm(survey: Survey, entry: EntryState): readonly Verdict[];
  /**
   * Judges what comes into a page later, each time before it is bound, and reports what does not agree.
   *
   * @param verdicts - those that were told already; the others are added to them
   */
  laterOfPage(root: Node, things: SortedThings, verdicts: Verdict[]): LaterJudging;
  /** The same for one form. */
  laterOfForm(form: HTMLFormElement, model: AnyModel, verdicts: Verdict[]): LaterJudging;
  /** A template of rows as if it were a form of the model; it need not show every field. */
  ofTemplate(
    container: Element,
    shown: readonly { readonly element: Element; readonly name: string }[],
    model: AnyModel,
  ): readonly Verdict[];
}
