import { transaction } from "../engine/index.ts";
import { pointerTo, type Problem } from "../model/index.ts";
import type { EntryCore } from "./EntryCore.ts";
import { Field } from "./Field.ts";

/** The fields of a group of an entry. */
export class GroupFields<F = object> {
  readonly fields: F;
  readonly #entry: EntryCore;

  /** Groups are made by their entry. */
  constructor(
    entry: EntryCore,
    readonly name: string,
    fields: F,
  ) {
    this.#entry = entry;
    this.fields = fields;
  }

  get pointer(): string {
    return pointerTo(this.name);
  }

  get title(): string {
    return this.#entry.model.titleOf(this.name);
  }

  get relevant(): boolean {
    return this.#entry.isRelevant(this.name);
  }

  get readOnly(): boolean {
    return this.#entry.isReadOnly(this.name) !== false;
  }

  get changed(): boolean {
    return this.#inside().some((field) => field.changed);
  }

  get problems(): readonly Problem[] {
    return this.#inside().flatMap((field) => field.problems);
  }

  get visibleProblems(): readonly Problem[] {
    return this.#inside().flatMap((field) => field.visibleProblems);
  }

  /** Takes all of them back to what they began with or last had when they were saved. */
  revert(): void {
    transaction(() => {
      for (const field of this.#inside()) field.revert();
    });
  }

  #inside(): Field[] {
    const { model } = this.#entry;
    return model.names
      .filter((name) => name.startsWith(`${this.name}.`))
      .map((name) => this.#entry.field(name))
      .filter((field) => field instanceof Field);
  }
}
