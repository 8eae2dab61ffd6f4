import { unknownName } from "../errors/index.ts";
import { english } from "./english.ts";
import type { Language, MessageFacts, MessageName } from "./words.ts";

const languages = new Map<string, Language>([[english.tag, english]]);

/** A language, or some words of one: those that it leaves out are as they were, or as in the language that it is a variety of. */
export interface LanguageWords {
  readonly tag: string;
  readonly messages: Partial<Language["messages"]>;
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
export function addLanguage({ tag, messages }: LanguageWords): void {
  const names = Object.keys(english.messages);
  for (const name of Object.keys(messages))
    if (!names.includes(name)) throw unknownName("unknownName", "The message", name, names, "addLanguage()");
  languages.set(tag, { tag, messages: { ...languageOf(tag).messages, ...messages } });
}

/** What a message says in a locale; in English where its language was not added. */
export function say(locale: string, name: MessageName, facts: MessageFacts = {}): string {
  return languageOf(locale).messages[name](facts);
}

function languageOf(locale: string): Language {
  for (let tag = locale; tag !== ""; tag = tag.slice(0, Math.max(0, tag.lastIndexOf("-")))) {
    const language = languages.get(tag);
    if (language !== undefined) return language;
  }
  return english;
}
