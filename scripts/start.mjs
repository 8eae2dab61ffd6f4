// `npm start`: builds the example pages, serves them, and says what to try.
import { join, relative } from "node:path";
import { fileURLToPath } from "node:url";
import { parseArgs } from "node:util";
import { buildExamples, startDemo } from "./demo.mjs";

const { values } = parseArgs({ options: { port: { type: "string", default: "4173" }, folder: { type: "string" } } });
const folder = values.folder ?? fileURLToPath(new URL("../data", import.meta.url));

console.log("Building the example pages …");
await buildExamples();
let demo;
try {
  demo = await startDemo({ port: Number(values.port), folder });
} catch (error) {
  if (error.code !== "EADDRINUSE") throw error;
  demo = await startDemo({ port: 0, folder });
}
console.log(`
The demo is at ${demo.address}/tree-card/
The cards and the stock book are kept in ${relative(process.cwd(), join(folder, "nursery.db"))}, the planting orders in orders.db beside it.

Try this:
  1. Press "Save card" on the blank card: every field that needs you says why.
  2. Type abc as the girth and leave the field: what you typed stays, and you are told what is expected.
  3. Fill in a card and press Enter: it is saved, the line below says where, and a blank card begins.
  4. Stop with Ctrl+C, start again, reload: the cards are still there.
  5. Open ${demo.address}/tree-card/de.html: 31,5 and 31.5 are both read.
  6. Open ${demo.address}/measuring-desk/: enter centimetres or inches, and change the language while it runs.
  7. Open ${demo.address}/site-survey/: press Next at once, survey P-13, undo with Ctrl+Z, and let the registry be slow or gone.
  8. Open ${demo.address}/stock-book/ in two windows: change cells in place, save with Ctrl+S, change one plant in both; paste from a spreadsheet, and make 1,000,000 rows.
  9. Open ${demo.address}/planting-orders/ in two windows: move plants to an order until its budget or its lorry says no; change one order in both.
  10. Open ${demo.address}/label-maker/: add a species that is not in the list; it is there after a restart.
  11. Open ${demo.address}/field-notes/: write a note, close the window in the middle, open it again: what you typed is offered. Saved notes are files in ${relative(process.cwd(), join(folder, "notes"))}.
`);
