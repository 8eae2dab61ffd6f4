import { type AbortSignalLike, Value } from "../engine/index.ts";
import { requireArgument } from "../errors/index.ts";
import type { Choice } from "./kinds/kind.ts";

/** Finds choices for what was typed so far; a newer text aborts the signal of the one before. */
export type FindChoices = (
  text: string,
  context: { readonly signal: AbortSignalLike },
) => Promise<readonly (string | Choice<string>)[]>;

/** Choices that are asked for, as of a service. Make one with {@link choiceSearch}. */
export class ChoiceSearch {
  readonly #found = new Map<string, Choice<string>>();
  readonly #choices = new Value<readonly Choice<string>[]>([]);
  readonly #find: FindChoices;

  constructor(find: FindChoices) {
    this.#find = find;
  }

  /** Everything that was found so far: what their captions are taken from. Reading it is followed. */
  get choices(): readonly Choice<string>[] {
    return this.#choices.read();
  }

  /** Asks, and remembers what was found. */
  async find(text: string, signal: AbortSignalLike): Promise<readonly Choice<string>[]> {
    const found = (await this.#find(text, { signal })).map((each) =>
      typeof each === "string" ? { const: each, title: each } : each,
    );
    const before = this.#found.size;
    for (const choice of found) this.#found.set(choice.const, choice);
    if (this.#found.size > before) this.#choices.write([...this.#found.values()]);
    return found;
  }
}

/**
 * Choices from a service.
 *
 * @example oneOf(choiceSearch(async (text, { signal }) => (await fetch(`species?begins=${text}`, { signal })).json()))
 */
export function choiceSearch(find: FindChoices): ChoiceSearch {
  requireArgument(typeof find === "function", "choiceSearch", find, "a function that finds choices for a text");
  return new ChoiceSearch(find);
}
