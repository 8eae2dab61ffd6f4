import { type Block, writeBlock } from "../../rows/index.ts";

/** Puts cells on the clipboard as text and as a table, which spreadsheets and documents both take. */
export function putOnClipboard(event: ClipboardEvent, block: Block, document: Document): void {
  event.preventDefault();
  event.clipboardData?.setData("text/plain", writeBlock(block));
  event.clipboardData?.setData("text/html", tableOf(block, document));
}

/** Made from elements, so that what a cell holds is text and never markup. */
function tableOf(block: Block, document: Document): string {
  const table = document.createElement("table");
  for (const cells of block) {
    const row = document.createElement("tr");
    for (const cell of cells) {
      const element = document.createElement("td");
      element.textContent = cell;
      row.append(element);
    }
    table.append(row);
  }
  return table.outerHTML;
}
