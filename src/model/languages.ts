import { isolatedFacts } from "./isolated.ts";
import { requireArgument, requireOptions, unknownName } from "../errors/index.ts";
import { checkingEnglish } from "./english/checking.ts";
import { type CheckingMessage, type MessageName, messageNames } from "./messageNames.ts";
import type { AreaWords, MessageFacts } from "./words.ts";

type Words = Partial<AreaWords<MessageName>>;

const languages = new Map<string, Words>();

/** A language, or some words of one: those that it leaves out are as they were, or as in the language that it is a variety of. */
export interface LanguageWords {
  /** A BCP 47 tag: used for every locale that begins with it. */
  readonly tag: string;
  /** The words, by the names of the messages. */
  readonly messages: Words;
}

/**
 * Adds a language, for every locale that begins with its tag, or replaces some of its words.
 *
 * @throws `unknownName` for a message that there is not
 * @example
 * import { german } from "ironwood/messages/de";
 * addLanguage(german);
 * addLanguage({ tag: "de-AT", messages: { valueMissing: () => "Da fehlt noch was." } });
 */
export function addLanguage(words: LanguageWords): void {
  requireArgument(
    typeof words === "object" && (words as unknown) !== null,
    "addLanguage",
    words,
    "a language, as german of ironwood/messages/de",
  );
  requireOptions("addLanguage", words, { tag: "locale", messages: "object" });
  const { tag, messages } = words;
  const { length } = ["tag", "messages"].filter(
    (name) => (words as unknown as Record<string, unknown>)[name] !== undefined,
  );
  requireArgument(
    length === 2,
    "addLanguage",
    words,
    "a language with tag and messages, as german of ironwood/messages/de",
  );
  const names: readonly string[] = messageNames;
  for (const name of Object.keys(messages))
    if (!names.includes(name)) throw unknownName("unknownName", "The message", name, names, "addLanguage()");
  languages.set(tag, { ...languages.get(tag), ...messages });
}

/** Makes what says the messages of one area: in a locale's language, or in English where that was not added. */
export const sayer =
  <Name extends MessageName>(inEnglish: AreaWords<Name>) =>
  (locale: string, name: Name, facts: MessageFacts = {}): string =>
    (added(locale, name) ?? inEnglish[name])(isolatedFacts(facts, locale));

/** What the language of a locale, or the one that it is a variety of, has for a message. */
function added(locale: string, name: MessageName): ((facts: MessageFacts) => string) | undefined {
  if (languages.size === 0) return undefined;
  for (let tag = locale; tag !== ""; tag = tag.slice(0, Math.max(0, tag.lastIndexOf("-")))) {
    const words = languages.get(tag)?.[name];
    if (words !== undefined) return words;
  }
  return undefined;
}

/** Says a message of entries. */
export const say = /* @__PURE__ */ sayer<CheckingMessage>(checkingEnglish);
