import type { FieldState } from "../../entry/index.ts";
import { type Finding, notOfFormat } from "../../model/index.ts";
import type { ControlContext } from "./ControlContext.ts";
import { PageControl } from "./PageControl.ts";
import { StandIn } from "./standIn.ts";

/** The platform's own control for a date, a time, both, a month or a week: its value is the field's, in ISO 8601. */
export class DateControl extends PageControl<HTMLInputElement> {
  readonly #element: HTMLInputElement;
  readonly #standIn: StandIn | undefined;

  constructor(field: FieldState, element: HTMLInputElement, context: ControlContext) {
    super(field, [element], context);
    this.#element = element;
    const { minimum, maximum } = field.kind.options as { minimum?: string; maximum?: string };
    // They limit the picker; what is typed beyond them stays and is explained.
    if (minimum !== undefined) element.min = this.#local(minimum);
    if (maximum !== undefined) element.max = this.#local(maximum);
    // Seconds can be entered where the value has some.
    if (/:\d\d:(?!00)\d\d/.test(this.#local(field.value))) element.step = "1";
    if (looksFilled() && context.inCell !== true) this.#standIn = new StandIn(element);
    if (element.value !== "" && element.value !== element.defaultValue) this.input();
  }

  /** An instant is shown by the clock of the entry's zone; everything else is what it says. */
  #local(value: unknown): string {
    if (value === undefined) return "";
    return this.field.kind.toLocal?.(value, this.field.timeZone) ?? String(value);
  }

  /** Of a month or a week, which are texts, only the control knows that they are half typed. */
  get #notRead(): Finding | undefined {
    return this.field.kind.kind === "text" ? notOfFormat(this.#element.type as "month" | "week") : undefined;
  }

  protected override takeRestored(): void {
    this.input();
  }

  protected show(): void {
    const value = this.#local(this.field.value);
    // What is half typed has no value yet, and must not be wiped away.
    if (this.#element.value !== value && !(value === "" && this.field.unreadable)) this.#element.value = value;
    const notSet = value === "" && !this.field.unreadable;
    this.#standIn?.show(notSet ? this.context.say("notSet") : "", notSet, this.field.relevant);
  }

  protected override showReadOnly(readOnly: boolean): void {
    this.#element.readOnly = readOnly;
  }

  input(): void {
    const { value, validity } = this.#element;
    const { kind, timeZone } = this.field;
    if (value === "" && validity.badInput) return this.enter("…", this.#element, this.#notRead);
    const entered: unknown = kind.fromLocal === undefined ? value : kind.fromLocal(value, timeZone);
    const chosen: unknown = value === "" ? kind.empty : entered;
    // A local time that the zone leaves out can't be read.
    if (value !== "" && chosen === undefined) this.enter(value, this.#element);
    else this.choose(chosen, this.#element);
  }

  change(): void {
    this.input();
  }

  /** While only some parts are typed no event comes, and its value is that of a blank one: but it is not blank. */
  #takeHalfTyped(): void {
    if (this.#element.validity.badInput && !this.field.unreadable) this.input();
  }

  override commitTyped(): void {
    this.#takeHalfTyped();
    super.commitTyped();
  }

  protected override leave(): void {
    this.#takeHalfTyped();
    super.leave();
  }

  override stop(): void {
    super.stop();
    this.#standIn?.stop();
  }
}

/** Whether this browser shows today in a control that is blank: WebKit does, which has always named this vendor. */
const looksFilled = (): boolean => navigator.vendor.startsWith("Apple");
