import { Value } from "../engine/index.ts";
import { requireArgument, requireOptions } from "../errors/index.ts";
import { folded } from "./kinds/choices.ts";
import type { Added, Choice } from "./kinds/kind.ts";
import { say } from "./languages.ts";
import { localeFrom } from "./localeOptions.ts";

/** Options of {@link choiceList}. */
export interface ChoiceListOptions {
  /** Keeps a new choice, so that it is there after a restart. While it throws, nothing is added. */
  readonly save?: ((title: string) => unknown) | undefined;
}

/** Options of {@link ChoiceList.add}. */
export interface AddOptions {
  /** The language of what is said, as a BCP 47 tag; the runtime's unless given. */
  readonly locale?: string | undefined;
}

/** Choices that grow. Make one with {@link choiceList}. */
export class ChoiceList {
  readonly #choices: Value<readonly Choice<string>[]>;
  readonly #save: ChoiceListOptions["save"];

  constructor(titles: Iterable<string>, { save }: ChoiceListOptions) {
    this.#choices = new Value<readonly Choice<string>[]>([]);
    this.#save = save;
    this.load(titles);
  }

  /** All of them, in order. Reading it is followed. */
  get choices(): readonly Choice<string>[] {
    return this.#choices.read();
  }

  /** Adds what is kept already; blank ones and those that are there are left out. */
  load(titles: Iterable<string>): void {
    const isMany = typeof (titles as Partial<Iterable<string>> | null)?.[Symbol.iterator] === "function";
    requireArgument(isMany, "choiceList", titles, "a list of texts");
    const choices = [...this.#choices.peek()];
    const seen = new Set(choices.map((choice) => folded(choice.title)));
    for (const given of titles) {
      requireArgument(typeof given === "string", "choiceList", given, "a text for each choice");
      const title = given.trim();
      if (title === "" || seen.has(folded(title))) continue;
      seen.add(folded(title));
      choices.push({ const: title, title });
    }
    this.#choices.write(choices);
  }

  /**
   * Adds a choice, without the blanks around it. Case does not make it another one.
   *
   * @returns its value, or why it was refused, as a code and in words
   * @example
   * const added = await species.add("Salix alba", { locale: "de" });
   * if (!added.ok) show(added.message);
   */
  async add(given: string, options: AddOptions = {}): Promise<Added> {
    requireArgument(typeof given === "string", "choiceList.add", given, "a text");
    requireOptions("choiceList.add", options, { locale: "locale" });
    const title = given.trim();
    const locale = localeFrom(options.locale);
    const why = this.#whyNot(title);
    if (why === "duplicate") return { ok: false, why, message: say(locale, "choiceExists", { value: title }) };
    if (why !== undefined) return { ok: false, why, message: say(locale, why) };
    try {
      await this.#save?.(title);
    } catch (error) {
      const reason = error instanceof Error ? error.message : String(error);
      return { ok: false, why: "notSaved", message: say(locale, "notSaved", { reason }), reason };
    }
    // While it was being kept, the same may have been added elsewhere.
    this.load([title]);
    return { ok: true, value: title };
  }

  #whyNot(title: string): "valueMissing" | "duplicate" | undefined {
    if (title === "") return "valueMissing";
    return this.#choices.peek().some((choice) => folded(choice.title) === folded(title)) ? "duplicate" : undefined;
  }
}

/**
 * Choices that a person can add to.
 *
 * @param titles - those that there are from the start
 * @example
 * const species = choiceList(["Quercus robur"], { save: (title) => store.append({ title }) });
 * model({ species: oneOf(species) });
 */
export function choiceList(titles: Iterable<string> = [], options: ChoiceListOptions = {}): ChoiceList {
  requireArgument(
    typeof titles === "object" && (titles as unknown) !== null && Symbol.iterator in titles,
    "choiceList",
    titles,
    "a list of texts",
  );
  requireOptions("choiceList", options, { save: "function" });
  return new ChoiceList(titles, options);
}
