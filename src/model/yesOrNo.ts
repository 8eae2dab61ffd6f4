import { say } from "./languages.ts";

/** Yes or no as a value, in the words of a locale. */
export const yesOrNo = (value: boolean, locale: string): string =>
  say(locale, value ? "yes" : "no").toLocaleLowerCase(locale);
