/** The page: binds the desk, and lets its language be changed while it runs. */
import { addLanguage, command, follow, newEntry } from "ironwood";
import { bindOutput, bindPage } from "ironwood/page";
import { arabic } from "ironwood/messages/ar";
import { german } from "ironwood/messages/de";
import { measures } from "./measures.ts";
import { wordsFor } from "./words.ts";

addLanguage(arabic);
addLanguage(german);

const desk = newEntry(measures, { locale: "en-GB", values: { species: "Quercus robur" } });

const takeAge = command({
  title: "Take the age down",
  allowed: () => desk.values.ageInYears !== undefined || "There is no age yet: enter the girth.",
  run: () => {
    desk.answer("taken", (t) => t.ageInYears);
  },
});

const language = (): string => desk.values.language ?? "en-GB";

// Every word of the page follows the language, the title of the window too.
for (const element of document.querySelectorAll<HTMLElement>("[data-word]"))
  bindOutput(element, () => wordsFor(language())[element.dataset["word"]!]);
bindOutput(document.querySelector("title")!, () => {
  const age = desk.fields.ageInYears.display;
  return [age, wordsFor(language())["title"], "Thornbeck"].filter(Boolean).join(" · ");
});
const top = document.documentElement;
bindOutput(top, language, { attribute: "lang" });
bindOutput(top, () => (language().startsWith("ar") ? "rtl" : "ltr"), { attribute: "dir" });
follow(language, (tag) => {
  desk.locale = tag;
});

bindPage(document, { desk, takeAge });
