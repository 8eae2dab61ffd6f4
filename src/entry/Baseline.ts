import type { AnyModel } from "../model/index.ts";
import { type Entered, enteredValue, FOLLOWING } from "./Entered.ts";
import { UndoableValue, type UndoOwner } from "./UndoableValue.ts";

/** Values by the full names of their fields. */
export type NamedValues = Readonly<Record<string, unknown>>;

class UndoableValues extends UndoableValue<NamedValues> {
  readonly title = "";
  protected readonly isInHistory = true;
}

const isSameObject = (a: object, b: object): boolean => a === b;

/** What a row began with or was last saved as: `changed` compares with it, and `revert` goes back to it. */
export class Baseline {
  readonly #values: UndoableValues;
  readonly #model: AnyModel;
  /** Whether what others propose applies. */
  readonly #isNew: boolean;

  constructor(model: AnyModel, values: NamedValues, isNew: boolean, owner: UndoOwner) {
    this.#model = model;
    this.#isNew = isNew;
    this.#values = new UndoableValues(values, isSameObject, owner);
  }

  /** All of it; followed. */
  read(): NamedValues {
    return this.#values.read();
  }

  set(values: NamedValues): void {
    this.#values.write(values);
  }

  /** The same, as a change that can be undone. */
  change(values: NamedValues): void {
    this.#values.change(values);
  }

  /** Whether a field begins by following what others propose. */
  proposes(name: string): boolean {
    return this.#isNew && this.#model.parts.proposals.has(name) && !Object.hasOwn(this.#values.peek(), name);
  }

  /** What a field begins with, and goes back to. */
  entered(name: string): Entered {
    return this.proposes(name) ? FOLLOWING : enteredValue(this.#valueIn(this.#values.peek(), name));
  }

  /** The value of a field that does not begin by following others; followed. */
  valueOf(name: string): unknown {
    return this.#valueIn(this.#values.read(), name);
  }

  #valueIn(values: NamedValues, name: string): unknown {
    return (Object.hasOwn(values, name) ? values[name] : undefined) ?? this.#model.kindOf(name)!.empty;
  }
}
