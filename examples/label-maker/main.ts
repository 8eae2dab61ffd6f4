/** The page: what is entered goes to the label, its caption, its colours and the title of the window. */
import { newEntry, notices } from "ironwood";
import { bindOutput, bindPage } from "ironwood/page";
import { httpStore } from "ironwood/browser";
import { newSpecies, speciesKept, treeLabel } from "./labels.ts";

const kept = httpStore("../service/species", speciesKept);
const species = newSpecies((title) => kept.append({ title }));
const model = treeLabel(species);
const labels = httpStore("../service/labels", model);
const label = newEntry(model, {
  afterSave: "startNew",
  save: (row, { signal }) => labels.append(row, { signal }),
});

bindPage(document, { label });

const card = document.querySelector<HTMLElement>("#card")!;
bindOutput(document.querySelector("title")!, () =>
  [label.values.caption, "Label maker", "Thornbeck"].filter(Boolean).join(" · "),
);
bindOutput(card, () => label.values.caption ?? "A label with nothing on it yet", { attribute: "aria-label" });
bindOutput(card, () => label.values.size, { attribute: "data-size" });
bindOutput(card, () => (label.values.punched ? "" : undefined), { attribute: "data-punched" });
bindOutput(document.querySelector("#edge-mark")!, () => label.values.edge || undefined, { attribute: "fill" });

try {
  const titles: string[] = [];
  for await (const each of kept.read()) if (each.ok) titles.push(each.row.title);
  species.load(titles);
} catch (error) {
  notices.say((error as Error).message, "error");
}
