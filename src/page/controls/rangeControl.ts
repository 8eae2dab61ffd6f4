import type { FieldState } from "../../entry/index.ts";
import type { Reach } from "../../model/index.ts";
import { toggleAttribute } from "../dom.ts";
import { memberOf } from "../memberOf.ts";
import { StandIn } from "./standIn.ts";
import type { ControlContext } from "./ControlContext.ts";
import { PageControl } from "./PageControl.ts";

interface Steps {
  readonly multipleOf?: number;
  readonly step?: number;
}

/** A slider, with its value beside it. It can't look empty, so while nothing is set it says so. */
export class RangeControl extends PageControl<HTMLInputElement> {
  readonly #element: HTMLInputElement;
  readonly #standIn: StandIn;
  readonly #shownElsewhere: boolean;

  constructor(field: FieldState, element: HTMLInputElement, context: ControlContext) {
    super(field, [element], context);
    this.#element = element;
    const { multipleOf, step = multipleOf } = field.kind.options as Steps;
    const { least, greatest } = (field.kind.reach ?? {}) as Reach<number>;
    if (least !== undefined) element.min = String(least);
    if (greatest !== undefined) element.max = String(greatest);
    element.step = String(step ?? (field.kind.kind === "integer" ? 1 : "any"));
    if (field.value === undefined && element.value !== element.defaultValue && element.defaultValue !== "")
      this.#take();
    this.#standIn = new StandIn(element);
    // A page that shows the value in an output need not show it twice.
    const { form } = element;
    const output = `output[name="${CSS.escape(element.name)}"]`;
    this.#shownElsewhere = form !== null && memberOf(form, "querySelector")(output) !== null;
  }

  protected override takeRestored(): void {
    this.input();
  }

  protected show(): void {
    const value = this.field.value as number | undefined;
    const blank = value === undefined;
    const wanted = blank ? this.#element.min || "0" : String(value);
    if (this.#element.value !== wanted) this.#element.value = wanted;
    const text = blank ? this.context.say("notSet") : this.field.display;
    toggleAttribute(this.#element, "aria-valuetext", text);
    this.#standIn.show(blank || !this.#shownElsewhere ? text : "", blank, this.field.relevant);
  }

  protected override showRequired(): void {
    // HTML has no required sliders; that it is missing is said by its message.
  }

  input(): void {
    if (this.readOnly) this.show();
    else this.#take();
  }

  /** Pressed where it stands, the platform sees no change and says nothing: it is the value that the person sees and wants. */
  click({ clientX: x, clientY: y }: MouseEvent): void {
    // A press on its label comes here too.
    const { left, right, top, bottom } = this.#element.getBoundingClientRect();
    const isHere = x >= left && x <= right && y >= top && y <= bottom;
    if (isHere && !this.readOnly && this.field.blank) this.#take();
  }

  #take(): void {
    this.choose(this.#element.valueAsNumber, this.#element);
  }

  keydown(event: KeyboardEvent): void {
    if (this.readOnly) return event.key === "Tab" ? undefined : event.preventDefault();
    const { kind, blank } = this.field;
    if ((event.key === "Delete" || event.key === "Backspace") && this.canBeBlank) {
      event.preventDefault();
      this.choose(undefined, this.#element);
    } else if (blank && ["Home", "ArrowLeft", "ArrowDown"].includes(event.key)) {
      // At its end already, the platform would see no change and say nothing.
      event.preventDefault();
      this.choose(kind.stepped!(undefined, 1), this.#element);
    }
  }

  override stop(): void {
    super.stop();
    this.#standIn.stop();
  }
}
