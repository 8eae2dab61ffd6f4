/** The page: binds the desk to the document, and lists the saved cards. */
import { addLanguage, follow, notices } from "ironwood";
import { bindOutput, bindPage } from "ironwood/page";
import { card, clearCard, keepCopy, keepInList, saved, savedCount, type TreeCard, trees } from "./desk.ts";

/** Only the German page loads German; where that can't be had, it speaks English. */
async function speak(language: string): Promise<void> {
  const german = language === "de" ? await import("ironwood/messages/de").catch(() => undefined) : undefined;
  if (german !== undefined) addLanguage(german.german);
}

function bind(): void {
  bindPage(document, { card, clearCard, keepCopy });
  bindOutput(document.querySelector("title")!, () =>
    [card.values.tag, "Tree card", "Thornbeck"].filter(Boolean).join(" · "),
  );
  follow(savedCount, showNew);
  bindOutput(document.querySelector("#count")!, () => (savedCount() === 0 ? "" : String(savedCount())));
}

const list = document.querySelector<HTMLElement>("#saved")!;
const template = list.querySelector("template")!;
const girth = new Intl.NumberFormat(document.documentElement.lang, {
  style: "unit",
  unit: "centimeter",
  maximumFractionDigits: 1,
});

function show(row: TreeCard): void {
  const item = template.content.firstElementChild!.cloneNode(true) as HTMLElement;
  const fill = (name: string, text: string): void => {
    item.querySelector(`[data-name="${name}"]`)!.textContent = text;
  };
  fill("tag", row.tag);
  fill("species", row.species);
  fill("girth", girth.format(row.girth));
  list.prepend(item);
}

let shown = 0;
const showNew = (): void => {
  for (; shown < saved.length; shown++) show(saved[shown]!);
};

async function showSaved(): Promise<void> {
  let unreadable = 0;
  try {
    for await (const each of trees.read()) {
      if (each.ok) keepInList(each.row);
      else unreadable++;
    }
    showNew();
    if (unreadable > 0)
      notices.say(`${unreadable} lines of ${trees.place} can't be read; they are left as they are.`, "error");
  } catch (error) {
    notices.say((error as Error).message, "error");
  }
}

async function start(): Promise<void> {
  await speak(document.documentElement.lang);
  bind();
  await showSaved();
}

void start();
