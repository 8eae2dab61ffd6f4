/** The desk at which tree cards are filled in: the entry, its commands, and where cards are kept. No page. */
import { command, integer, model, newEntry, type RowOf } from "ironwood";
import { httpStore, pickedFile } from "ironwood/browser";
import { treeCard } from "./nursery.ts";

export type TreeCard = RowOf<typeof treeCard>;

export const trees = httpStore("../service/cards", treeCard);
export const saved: TreeCard[] = [];

/** Values of this window only, never saved: they are bound and followed like any others. */
const counters = newEntry(model({ savedCards: integer({ default: 0 }) }));

export function keepInList(row: TreeCard): void {
  saved.push(row);
  counters.values.savedCards = saved.length;
}

export const savedCount = (): number => counters.values.savedCards ?? 0;

export const card = newEntry(treeCard, {
  afterSave: "startNew",
  save: async (row, { signal }) => {
    const receipt = await trees.append(row, { signal });
    keepInList(row);
    return receipt;
  },
});

export const clearCard = command({
  title: "Clear the card",
  allowed: () => card.changed || "There is nothing to clear: the card is blank.",
  run: () => {
    card.startNew();
    return "The card is blank again.";
  },
});

const copy = pickedFile(treeCard, "tree-cards.ndjson");

export const keepCopy = command({
  title: "Keep a copy",
  allowed: () => savedCount() > 0 || "There is no saved card to copy yet.",
  run: async () => {
    const last = saved.at(-1)!;
    const { place } = await copy.append(last);
    return `A copy of ${last.tag} is in ${place}.`;
  },
});
