import { notices } from "../../command/index.ts";
import { mirror, type Stoppable } from "../../engine/index.ts";
import type { FieldState } from "../../entry/index.ts";
import { pointerTo, say, sayer } from "../../model/index.ts";
import { holderOf } from "../../rows/index.ts";
import type { ViewState } from "../../table/index.ts";
import type { Undoing } from "../binding.ts";
import type { ControlContext } from "../controls/ControlContext.ts";
import { ensureId } from "../dom.ts";
import type { Listening } from "../listening.ts";
import { type FormPart, partsOf } from "../formParts.ts";
import type { ConflictChoice } from "../problems/ConflictChoice.ts";
import { ProblemMessage } from "../problems/message.ts";
import { setHidden } from "../relevance.ts";

/**
 * Shows at the rows inside a row what is said of the field that holds them: whether the field matters, what is wrong with it, and the two
 * sides of a conflict. For the form round them it is what shows that field.
 */
export class HeldRows implements FormPart {
  readonly elements: readonly HTMLElement[];
  readonly pointers: readonly string[];
  readonly label = "";
  readonly #outer: HTMLElement;
  readonly #hadId: boolean;
  readonly #message: ProblemMessage;
  readonly #context: ControlContext;
  readonly #showing: Stoppable;
  #choice: ConflictChoice | undefined;
  #isInConflict = false;

  /** @param outer - what is hidden with the rows, and what the message stands behind */
  constructor(
    element: HTMLElement,
    outer: HTMLElement,
    readonly field: FieldState,
    listening: Listening,
  ) {
    this.elements = [element];
    this.pointers = [pointerTo(field.name)];
    this.#outer = outer;
    this.#hadId = element.id !== "";
    this.#context = {
      listening,
      prefix: ensureId(element, field.name),
      say: (name, facts) => say(field.locale, name, facts),
      sayOf: (inEnglish, name, facts) => sayer(inEnglish)(field.locale, name, facts),
    };
    this.#message = new ProblemMessage([element], `${this.id}-problem`, (message) => outer.after(message));
    partsOf(field.owner).add(this);
    this.#showing = mirror(() => this.#show(), `the rows of ${field.name}`);
  }

  get id(): string {
    return this.#context.prefix;
  }

  /** The first that is wrong in them, else the first that can have the focus. */
  focus(): void {
    const [element] = this.elements as [HTMLElement];
    const wrong = element.querySelector<HTMLElement>("[aria-invalid=true]");
    (wrong ?? element.querySelector<HTMLElement>("[tabindex='0'], input, select, textarea, button"))?.focus();
  }

  #show(): void {
    const { field } = this;
    const { relevant, visibleProblems, checking, problemsVisible } = field;
    setHidden(this.#outer, !relevant);
    this.#message.show(visibleProblems, checking && problemsVisible ? this.#context.say("checking") : "");
    this.#message.setHidden(!relevant);
    const wasInConflict = this.#isInConflict;
    this.#isInConflict = visibleProblems[0]?.code === "changedElsewhere";
    if (!this.#isInConflict) this.#endChoice();
    else if (wasInConflict) this.#choice?.show(field.conflict!);
    else void this.#offerChoice();
  }

  async #offerChoice(): Promise<void> {
    const { field } = this;
    const { ConflictChoice: Loaded } = await import("../problems/ConflictChoice.ts");
    const { conflict } = field;
    // It may have been settled, or offered already, meanwhile.
    if (conflict === undefined || !this.#isInConflict || this.#choice !== undefined) return;
    const text = `${field.title}: ${field.problems[0]!.message}`;
    if (notices.latest?.text !== text) notices.say(text, "warning");
    this.#choice = new Loaded(field, this.#message.element!, this.#context, () => this.focus());
    this.#choice.show(conflict);
  }

  #endChoice(): void {
    this.#choice?.stop();
    this.#choice = undefined;
  }

  stop(): void {
    this.#showing.stop();
    partsOf(this.field.owner).delete(this);
    this.#isInConflict = false;
    this.#endChoice();
    this.#message.stop();
    setHidden(this.#outer, false);
    if (!this.#hadId) this.elements[0]!.removeAttribute("id");
  }
}

/** Shows what is said of the field that holds the rows of a view, where they are inside a row. */
export function keepHeld(
  undoing: Undoing,
  element: HTMLElement,
  outer: HTMLElement,
  view: ViewState,
  listening: Listening,
): void {
  const holder = holderOf(view.table);
  if (holder === undefined) return;
  const held = new HeldRows(element, outer, holder, listening);
  undoing.add(() => held.stop());
}
