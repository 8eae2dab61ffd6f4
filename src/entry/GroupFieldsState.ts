import { transaction } from "../engine/index.ts";
import { pointerTo, type Problem } from "../model/index.ts";
import type { EntryCore } from "./EntryCore.ts";
import { FieldState } from "./FieldState.ts";
import type { GroupFields } from "./GroupFields.ts";

/** What is behind the fields of a group. */
export class GroupFieldsState implements GroupFields {
  readonly #entry: EntryCore;

  constructor(
    entry: EntryCore,
    readonly name: string,
    readonly fields: object,
  ) {
    this.#entry = entry;
  }

  get pointer(): string {
    return pointerTo(this.name);
  }

  get title(): string {
    return this.#entry.model.titleOf(this.name, this.#entry.locale);
  }

  get relevant(): boolean {
    return this.#entry.conditions.isRelevant(this.name);
  }

  get readOnly(): boolean {
    return this.#entry.conditions.isReadOnly(this.name) !== false;
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

  revert(): void {
    transaction(() => {
      for (const field of this.#inside()) field.revert();
    });
  }

  #inside(): FieldState[] {
    const names: readonly string[] = this.#entry.model.names;
    return names
      .filter((name) => name.startsWith(`${this.name}.`))
      .map((name) => this.#entry.field(name))
      .filter((field) => field instanceof FieldState);
  }
}
