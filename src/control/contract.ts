import { changeNow, mirror, type Stoppable, dispose } from "../engine/index.ts";
import { requireArgument } from "../errors/index.ts";
import type { Field } from "../entry/index.ts";
import type { Conflict } from "../merge/index.ts";
import type { Choice, KindName, Problem } from "../model/index.ts";
import { whatToShow } from "./decisions.ts";

/** Everything that a control of any toolkit is shown of its field. */
export interface ControlState {
  /** The kind of its values. */
  readonly kind: KindName;
  /** What people call it. */
  readonly title: string;
  /** What people are told of it beside its title. */
  readonly description: string | undefined;
  /** An example for a blank control. */
  readonly placeholder: string | undefined;
  /** Its value. */
  readonly value: unknown;
  /** What to show while the control has the focus: the text to edit, in full; or as it was typed. */
  readonly text: string;
  /** What to show otherwise: the display format, with unit or caption; what can't be read, as it was typed. */
  readonly display: string;
  /** What can be chosen as of now, in order; `undefined` where anything can be entered. */
  readonly choices: readonly Choice[] | undefined;
  /** Whether it has to be given. */
  readonly required: boolean;
  /** Whether a person may not change it; the control stays reachable. */
  readonly readOnly: boolean;
  /** Why they may not, in the words of the model; `undefined` where they may, or no reason was given. */
  readonly reason: string | undefined;
  /** Whether a rule that asks elsewhere is being waited for. */
  readonly checking: boolean;
  /** Whether the control is there at all. */
  readonly relevant: boolean;
  /** Those that the person is to see. */
  readonly problems: readonly Problem[];
  /**
   * Whether a control that has the focus is to leave what is there: this change was made by typing into it, or comes from
   * elsewhere and waits until the control is left. What a person asked for, as an undo, rewrites it.
   */
  readonly keep: boolean;
  /** What was entered here and otherwise elsewhere, between which the person has to choose: {@link Attached.resolve}. */
  readonly conflict: Conflict | undefined;
}

/** What a toolkit's control has to do. Anything else it is told by what {@link attachControl} gives. */
export interface Control {
  /** Shows the field: called once when it is attached, and after each change. It must write no values. */
  show(state: ControlState): void;
}

/** What a control is given to tell what a person does. While the field is read-only, nothing of it is taken. */
export interface Attached extends Stoppable {
  /** The field that the control shows. */
  readonly field: Field;
  /** The person typed: takes the text exactly as it is. */
  enter(text: string): void;
  /** The person chose a value; `undefined` takes it away. */
  choose(value: unknown): void;
  /** The person moved so many steps up, or down. @returns whether there was somewhere to go */
  step(times: number): boolean;
  /** The person chose what to hold of a conflict. */
  resolve(choice: "mine" | "theirs"): void;
  /** The person left the control: from now on its problems are visible, if it was changed. */
  leave(): void;
}

/**
 * Binds a control of any toolkit to a field: what the page's own controls do, for a terminal or a native window.
 * `controlConformance` of `ironwood/testing` checks that a control does so.
 *
 * @example
 * const attached = attachControl(card.fields.girth, { show: ({ display }) => { label.text = display; } });
 * textBox.onTyped = (text) => attached.enter(text);
 * textBox.onLeft = () => attached.leave();
 */
export function attachControl(field: Field, control: Control): Attached {
  requireArgument(isField(field), "attachControl", field, "a field of an entry, as card.fields.girth");
  const isControl = typeof (control as Partial<Control> | null)?.show === "function";
  requireArgument(isControl, "attachControl", control, "a control with a function show, as { show: ({ text }) => … }");
  const showing = mirror(() => control.show(stateOf(field, control)), field.name);
  const change = { control };
  const attached: Attached = {
    field,
    enter(text) {
      if (!field.readOnly) field.enter(text, change);
    },
    choose(value) {
      if (!field.readOnly) field.choose(value ?? field.kind.empty, change);
    },
    step(times) {
      const { kind } = field;
      if (kind.stepped === undefined || field.readOnly || field.unreadable) return false;
      // A step is no typing: the control shows the new value even while it has the focus.
      field.choose(kind.stepped(field.value, times), { control, cause: "command" });
      return true;
    },
    resolve: (choice) => field.resolve(choice),
    leave: () => field.leave(),
    stop: () => showing.stop(),
    [dispose]: () => showing.stop(),
  };
  return attached;
}

const isField = (given: unknown): boolean => typeof (given as Partial<Field> | null)?.enter === "function";

function stateOf(field: Field, control: Control): ControlState {
  const { cause, control: changed } = changeNow();
  const { description, placeholder } = field.kind.options;
  return {
    kind: field.kind.kind,
    title: field.title,
    description,
    placeholder,
    value: field.value,
    text: field.text,
    display: field.display,
    choices: field.choices,
    required: field.required,
    readOnly: field.readOnly,
    reason: field.reason,
    checking: field.checking,
    relevant: field.relevant,
    problems: field.visibleProblems,
    keep:
      whatToShow({ focused: true, composing: false, cause, own: cause === "typed" && changed === control }) === "keep",
    conflict: field.conflict,
  };
}
