import { type History, internal, newHistory, transaction } from "../engine/index.ts";
import {
  type AnyModel,
  localeFrom,
  type Problem,
  putIn,
  type RowOf,
  timeZoneFrom,
  type ValuesOf,
} from "../model/index.ts";
import type { NamedValues } from "./Baseline.ts";
import type { EntryFields } from "./EntryFields.ts";
import type { EntryOptions } from "./EntryOptions.ts";
import { EntryCore } from "./EntryCore.ts";
import { FieldState } from "./FieldState.ts";
import { rowFrom } from "./rowFrom.ts";
import { fieldsOf, valuesOf } from "./members.ts";

/** What there is to know of an entry: its values, fields, problems and what was changed. */
export abstract class EntryReading<M extends AnyModel = AnyModel> {
  readonly values: ValuesOf<M>;
  readonly fields: EntryFields<M>;
  readonly core: EntryCore;
  #localeGiven: boolean;

  constructor(
    readonly model: M,
    values: NamedValues,
    isNew: boolean,
    options: EntryOptions<M>,
  ) {
    this.#localeGiven = options.locale !== undefined;
    this.core = new EntryCore({
      model,
      values,
      isNew,
      locale: localeFrom(options.locale),
      timeZone: timeZoneFrom(options.timeZone),
      history: options.history ?? newHistory(),
      viewOnly: options.readOnly,
    });
    this.values = valuesOf(this.core) as ValuesOf<M>;
    this.fields = fieldsOf(this.core) as EntryFields<M>;
  }

  get [internal](): this {
    return this;
  }

  get locale(): string {
    return this.core.locale;
  }

  set locale(locale: string) {
    this.#localeGiven = true;
    transaction(() => {
      this.core.locale = localeFrom(locale);
    });
  }

  get timeZone(): string {
    return this.core.timeZone;
  }

  /** The page's language, used unless the builder has said another. */
  offerLocale(locale: string): void {
    if (!this.#localeGiven && locale !== "") this.locale = locale;
  }

  get problems(): readonly Problem[] {
    return this.core.problems.all;
  }

  get visibleProblems(): readonly Problem[] {
    return this.core.problems.visible;
  }

  get valid(): boolean {
    return this.problems.every((problem) => problem.severity !== "error");
  }

  get changed(): boolean {
    return this.core.isEdited || this.core.parts.changed;
  }

  /** As above, but only for fields that were read before; reading it does not follow anything. */
  get changedNow(): boolean {
    return this.core.fieldsInUse().some((field) => field.changed) || this.core.parts.changed;
  }

  get checking(): boolean {
    return this.core.asking.isChecking();
  }

  get readOnly(): boolean {
    return this.core.conditions.whole !== false;
  }

  get reason(): string | undefined {
    const reason = this.core.conditions.whole;
    return typeof reason === "string" ? reason : undefined;
  }

  get history(): History {
    return this.core.history;
  }

  changes(): Record<string, unknown> {
    const patch: Record<string, unknown> = {};
    for (const name of this.model.names) {
      const field = this.core.field(name);
      if (!(field instanceof FieldState) || field.kind.options.saved === false) continue;
      const { kind, relevant, value } = field;
      // What is irrelevant is blank in the row, whatever was entered.
      if (relevant ? field.changed : !kind.isBlank(this.core.baseline.valueOf(name)))
        putIn(patch, name, !relevant || kind.isBlank(value) ? null : value);
    }
    return patch;
  }

  row(): RowOf<M> {
    return rowFrom(this.valuesToSave()) as RowOf<M>;
  }

  /** What would be saved now, by full names: what is irrelevant is blank. */
  protected valuesToSave(): NamedValues {
    const values: Record<string, unknown> = {};
    for (const name of this.model.names) {
      const field = this.core.field(name);
      if (field instanceof FieldState && field.kind.options.saved !== false)
        values[name] = field.relevant ? field.value : field.kind.empty;
    }
    return values;
  }
}
