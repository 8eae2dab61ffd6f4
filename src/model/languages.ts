import { english } from "./english.ts";
import type { Language, MessageFacts, MessageName } from "./words.ts";

const languages = new Map<string, Language>([[english.tag, english]]);

/**
 * Adds a language, for every locale that begins with its tag. To replace single texts of a shipped one, spread it.
 *
 * @example
 * import { german } from "ironwood/messages/de";
 * addLanguage(german);
 */
export function addLanguage(language: Language): void {
  languages.set(language.tag, language);
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
