import { notices } from "../../command/index.ts";
import { type Change, laterMirror, mirror, type Stoppable } from "../../engine/index.ts";
import { type FieldState, FieldChange } from "../../entry/index.ts";
import type { AnyKind, Finding } from "../../model/index.ts";
import type { Listener } from "../listening.ts";
import { takeOver } from "../takeOver.ts";
import { disable, ensureId, labelsOf, toggleAttribute } from "../dom.ts";
import type { ConflictChoice } from "../problems/ConflictChoice.ts";
import { ProblemMessage } from "../problems/message.ts";
import type { ControlContext } from "./ControlContext.ts";
import { FoundElement } from "../found.ts";
import { putState, stateOf } from "./state.ts";
import { ShownReason } from "../reason.ts";
import { followRelevance } from "../relevance.ts";

/**
 * Gives a control what the model says about it and the page does not.
 *
 * @param given - is told of each attribute that the control was given
 */
export function describe(element: Element, { options }: AnyKind, given?: (attribute: string) => void): void {
  const { description, placeholder } = options;
  const give = (attribute: string, text: string): void => {
    if (element.hasAttribute(attribute)) return;
    element.setAttribute(attribute, text);
    given?.(attribute);
  };
  if (description !== undefined && !element.hasAttribute("aria-describedby")) give("aria-description", description);
  if (placeholder !== undefined) give("placeholder", placeholder);
}

/**
 * A control, or a group of radio buttons or check boxes, that shows one field and lets a person change it. Each kind of
 * control is a file in this folder; this is what they share.
 */
export abstract class PageControl<E extends HTMLElement = HTMLElement> implements Listener {
  #message: ProblemMessage | undefined;
  #change: Change | undefined;
  readonly context: ControlContext;
  readonly #releases: readonly (() => void)[];
  readonly #found: readonly FoundElement[];
  #showing: Stoppable | undefined;
  #required = false;
  #readOnly = false;
  #reason: ShownReason | undefined;
  #relevant = true;
  #conditionsStand = false;
  #inConflict = false;
  #stopped = false;
  #choice: ConflictChoice | undefined;

  constructor(
    readonly field: FieldState,
    readonly elements: readonly E[],
    context: ControlContext,
  ) {
    this.context = context;
    this.#releases = elements.map((element) => takeOver("control", element, () => this.stop()));
    this.#found = elements.map((element) => new FoundElement(element));
  }

  get pointers(): readonly string[] {
    return [this.field.pointer];
  }

  /** Shows the field from now on. */
  start(): this {
    this.#listen();
    describe(this.elements[0]!, this.field.kind);
    this.#showing = mirror(() => this.#look(), this.field.name);
    return this;
  }

  /** Follows the field from now on; the element shows already what the field holds. */
  wake(): this {
    this.#listen();
    this.#required = this.field.kind.options.required === true;
    this.#readOnly = this.field.kind.options.readOnly === true;
    const showing = laterMirror(() => this.#look(), this.field.name);
    this.field.watchedBy(showing);
    this.#showing = showing;
    return this;
  }

  /**
   * The platform may have put back what was there when the page was left. Only what differs from what the control shows was put
   * there: the platform itself shows some values otherwise than they are, as a slider that has steps.
   */
  restored(): void {
    if (this.takeRestored === undefined) return;
    const there = this.elements.map(stateOf);
    this.show();
    if (there.every((state, place) => state === stateOf(this.elements[place]!))) return;
    this.elements.forEach((element, place) => putState(element, there[place]!));
    this.takeRestored();
  }

  /** Takes what the platform has put into the elements. */
  protected takeRestored?(): void;

  /** Shows the field again, also when nothing has changed. */
  lookAgain(): void {
    this.#showing?.stop();
    this.#showing = mirror(() => this.#look(), this.field.name);
  }

  #listen(): void {
    for (const element of this.elements) this.context.listening.set(element, this);
  }

  #look(): void {
    this.#showState();
    this.show();
  }

  /** Shows the value. */
  protected abstract show(): void;

  /** Makes it required, or not, in the way the element has. */
  protected showRequired(required: boolean): void {
    for (const element of this.elements) if ("required" in element) element.required = required;
  }

  /** Keeps people from changing it; the element stays reachable. */
  protected showReadOnly(readOnly: boolean): void {
    for (const element of this.elements) toggleAttribute(element, "aria-disabled", readOnly ? "true" : undefined);
  }

  /** A text that can't be changed is plain to see; of any other control it has to be said. */
  protected get readOnlyIsPlain(): boolean {
    return false;
  }

  #showReason(): void {
    const reason = this.field.reason ?? (this.readOnlyIsPlain ? undefined : this.context.say("readOnly"));
    if (reason === undefined && this.#reason === undefined) return;
    this.#reason ??= new ShownReason(this.elements, () => `${this.context.prefix}-${this.field.name}-reason`);
    this.#reason.show(reason);
  }

  /** Treats what was typed as if the control had been left; the focus stays in it. */
  commitTyped(): void {
    this.field.tidy();
  }

  protected get readOnly(): boolean {
    return this.#readOnly;
  }

  /** Whether a person may take the value away again. */
  protected get canBeBlank(): boolean {
    return !this.field.required && this.field.kind.options.default === undefined;
  }

  get id(): string {
    return ensureId(this.elements[0]!, `${this.context.prefix}-${this.field.name}`);
  }

  /** What the page calls it: the label of the control, or the legend of a group; blank when it has neither. */
  get label(): string {
    const [first] = this.elements as readonly [E];
    const group = this.elements.length > 1 ? first.closest("fieldset") : null;
    const label = group === null ? labelsOf(first)?.[0] : group.querySelector("legend");
    return ownText(label).replace(/[\s:*]+$/, "");
  }

  focus(): void {
    this.elements[0]!.focus();
  }

  /** A group is left when the focus goes somewhere else, not from one of its elements to the next. */
  focusout(event?: FocusEvent): void {
    if (event !== undefined && this.elements.includes(event.relatedTarget as E)) return;
    this.leave();
  }

  /** What was entered is settled at once, as a command may read it; what that shows waits for the end of a press. */
  protected leave(): void {
    this.field.tidy();
    this.context.listening.afterPress(() => this.field.leave());
  }

  /** Takes what a person did to the field, so that followers know the control. */
  /** @param found - why the text can't be read, where only the control knows */
  enter(text: string, control: E, found?: Finding): void {
    this.field.enter(text, this.#doneIn(control), found);
  }

  choose(value: unknown, control: E): void {
    const { kind } = this.field;
    // A control that does not suit the field gives what the field can't have: it is read as a text is, and its problem shows.
    if (value !== undefined && value !== kind.empty && !kind.belongs(value)) this.enter(String(value), control);
    else this.field.choose(value, this.#doneIn(control));
  }

  /** The cause of changes that a person makes in one of the elements; one object, since each key needs it. */
  #doneIn(control: E): Change {
    if (this.#change?.control !== control) this.#change = new FieldChange("typed", this.field, control);
    return this.#change;
  }

  #showState(): void {
    const { field } = this;
    if (!this.#conditionsStand) this.#showConditions();
    const { visibleProblems, checking, outOfDate } = field;
    if (visibleProblems.length === 0 && !checking && !outOfDate && this.#message === undefined) return;
    this.#message ??= new ProblemMessage(this.elements, `${this.context.prefix}-${field.name}-problem`);
    if (outOfDate)
      this.#message.show(visibleProblems, this.context.say("outOfDate", { value: field.display }), "outOfDate");
    else this.#message.show(visibleProblems, checking && field.problemsVisible ? this.context.say("checking") : "");
    this.#message.setHidden(!this.#relevant);
    const inConflict = visibleProblems[0]?.code === "changedElsewhere";
    if (inConflict || this.#inConflict) this.#showConflict(inConflict);
  }

  #showConditions(): void {
    const { field } = this;
    const { required, readOnly, relevant } = field;
    // Nothing but code that is not there could change them: most fields have no conditions, and this is run at each key.
    this.#conditionsStand = !readOnly && field.owner.conditions.isPlain(field.name);
    if (required !== this.#required) this.showRequired(required);
    this.#required = required;
    const wasReadOnly = this.#readOnly;
    this.#readOnly = readOnly;
    if (readOnly !== wasReadOnly) this.showReadOnly(readOnly);
    if (readOnly) this.#showReason();
    else this.#reason?.show(undefined);
    if (relevant !== this.#relevant) this.showRelevant(relevant);
    this.#relevant = relevant;
  }

  #showConflict(inConflict: boolean): void {
    const before = this.#inConflict;
    this.#inConflict = inConflict;
    if (!inConflict) {
      this.#choice?.stop();
      this.#choice = undefined;
    } else if (before) this.#choice?.show(this.field.conflict!);
    else void this.#offerChoice();
  }

  /** Happens so seldom that it is loaded only then; and what is said waits until all is shown. */
  async #offerChoice(): Promise<void> {
    const { inCell = false } = this.context;
    const loaded = await (inCell ? Promise.resolve(undefined) : import("../problems/ConflictChoice.ts"));
    const { conflict } = this.field;
    if (conflict === undefined || !this.#inConflict) return;
    const said = `${this.label || this.field.title}: ${this.field.problems[0]!.message}`;
    // Several controls may show one field.
    const text = inCell ? `${said} ${this.context.say("chooseInCell")}` : said;
    if (notices.latest?.text !== text) notices.say(text, "warning");
    // It may have come, gone and come again meanwhile.
    if (loaded === undefined || this.#choice !== undefined) return;
    this.#choice = new loaded.ConflictChoice(this.field, this.#message!.element!, this.context, () => this.focus());
    this.#choice.show(conflict);
    // Who is typing here is to see what can be chosen.
    if (this.elements.some((element) => element.matches(":focus")))
      this.#choice.element.scrollIntoView({ block: "nearest" });
  }

  protected showRelevant(relevant: boolean): void {
    for (const element of this.elements) {
      element.hidden = !relevant;
      disable(element, !relevant);
      for (const label of labelsOf(element) ?? []) label.hidden = !relevant;
    }
    followRelevance(this.elements[0]!);
  }

  /** Follows its field no more, and leaves the page as it was found. */
  stop(): void {
    if (this.#stopped) return;
    this.#stopped = true;
    for (const release of this.#releases) release();
    this.#showing?.stop();
    this.#inConflict = false;
    this.#choice?.stop();
    this.#message?.stop();
    this.#reason?.stop();
    for (const element of this.elements)
      if (this.context.listening.get(element) === this) this.context.listening.delete(element);
    if (!this.#relevant) this.showRelevant(true);
    this.restorePage();
  }

  /** Takes away what was made beside the elements, and gives them back what they were. */
  protected restorePage(): void {
    for (const found of this.#found) found.restore();
  }
}

/** The text of a label without that of the controls, hints and messages inside it. */
function ownText(label: Element | null | undefined): string {
  const texts = [...(label?.childNodes ?? [])]
    .filter((node) => node.nodeType === Node.TEXT_NODE)
    .map((node) => node.textContent ?? "");
  const text = texts.join(" ").replace(/\s+/g, " ").trim();
  return text === "" ? (label?.firstElementChild?.textContent ?? "").trim() : text;
}
