// The demo: the example pages, built, and the service that keeps their data in databases and files. Used by `npm start` and by tests.
import { mkdirSync, readFileSync } from "node:fs";
import { join, relative } from "node:path";
import { fileURLToPath } from "node:url";
import { serve } from "@hono/node-server";
import { serveStatic } from "@hono/node-server/serve-static";
import { Hono } from "hono";
import { createJiti } from "jiti";
import { build } from "vite";
import { fileStore, folderStore } from "ironwood/files";
import { rowsService } from "ironwood/serve";
import { sqliteDatabase } from "ironwood/sqlite";
import { loadRows } from "ironwood/store";
import { table } from "ironwood";
import { databaseOf, keptTables } from "./keptTables.mjs";
import { plotRegistry } from "./plotRegistry.mjs";

const top = fileURLToPath(new URL("..", import.meta.url));
const pages = join(top, ".cache/examples");

/** What a page may load: itself, and nothing written into it. */
const policy = [
  "default-src 'none'",
  "script-src 'self'",
  "style-src 'self'",
  "img-src 'self' data:",
  "connect-src 'self'",
  "base-uri 'none'",
  "form-action 'none'",
  "require-trusted-types-for 'script'",
  "trusted-types 'none'",
].join("; ");

export async function buildExamples() {
  await build({ configFile: join(top, "examples/vite.config.mjs") });
}

async function rowsOf(store) {
  const rows = [];
  for await (const each of store.read()) if (each.ok) rows.push(each.row);
  return rows;
}

/** What an older demo has kept in a file goes on in the database. */
async function takeOver(store, older) {
  if ((await rowsOf(store)).length > 0) return;
  const changes = (await rowsOf(older)).map((row) => ({ kind: "insert", row }));
  if (changes.length > 0) await store.write(changes, { id: `the rows of ${older.place}` });
}

/**
 * Serves the pages on this machine, with rows in `folder`.
 * @returns the address, and what ends it
 */
export async function startDemo({ port = 0, folder }) {
  mkdirSync(folder, { recursive: true });
  const load = createJiti(import.meta.url);
  const { treeCard } = await load.import("../examples/tree-card/nursery.ts");
  const { newSpecies, speciesKept, treeLabel } = await load.import("../examples/label-maker/labels.ts");
  // The service checks by the same choices as the page: those that were added are choices here too.
  const species = newSpecies();
  const kept = fileStore(join(folder, "species.ndjson"), speciesKept);
  const loadSpecies = async () => {
    for await (const each of kept.read()) if (each.ok) species.load([each.row.title]);
  };
  await loadSpecies();
  const label = treeLabel(species);
  const { siteSurvey } = await load.import("../examples/site-survey/survey.ts");
  const { plant } = await load.import("../examples/stock-book/plants.ts");
  const nursery = sqliteDatabase(join(folder, "nursery.db"));
  const stock = keptTables(nursery, { stock: plant });
  const shipped = table(plant);
  await loadRows(shipped, readFileSync(join(top, "examples/stock-book/stock.csv"), "utf8"));
  await stock.begin({ stock: [...shipped] });
  const { allotted, order, planned, task } = await load.import("../examples/planting-orders/orders.ts");
  const ordersKept = sqliteDatabase(join(folder, "orders.db"));
  const orders = keptTables(
    ordersKept,
    { stock: plant, orders: order, lines: allotted, tasks: task },
    {
      lines: { order: "orders" },
    },
  );
  await orders.begin(planned());
  const { categoryKept, fieldNote, newCategories } = await load.import("../examples/field-notes/notes.ts");
  const categories = newCategories();
  const categoriesKept = fileStore(join(folder, "categories.ndjson"), categoryKept);
  for await (const each of categoriesKept.read()) if (each.ok) categories.load([each.row.title]);
  const note = fieldNote(categories);
  const notes = folderStore(join(folder, "notes"), note, { fileName: ["writtenOn", "category", "subject"] });
  const registry = plotRegistry();
  const survey = siteSurvey(registry);
  const cards = nursery.store(treeCard, "cards");
  await takeOver(cards, fileStore(join(folder, "trees.ndjson"), treeCard));
  const app = new Hono();
  app.use(async (context, next) => {
    await next();
    context.header("content-security-policy", policy);
    context.header("x-content-type-options", "nosniff");
  });
  // No other page in the browser may use these services, whichever they are.
  const { refusedElsewhere } = await load.import("../src/serve/guard.ts");
  app.use("/service/*", async (context, next) => refusedElsewhere(context.req.raw) ?? next());
  app.mount("/service/cards", rowsService(cards, treeCard).fetch);
  app.mount("/service/labels", rowsService(fileStore(join(folder, "labels.csv"), label), label).fetch);
  app.use("/service/species/*", async (_, next) => {
    await next();
    await loadSpecies();
  });
  app.mount("/service/species", rowsService(kept, speciesKept).fetch);
  app.mount("/service/surveys", rowsService(fileStore(join(folder, "surveys.ndjson"), survey), survey).fetch);
  app.route("/service/stock", stock.service);
  app.route("/service/orders", orders.service);
  app.mount("/service/categories", rowsService(categoriesKept, categoryKept).fetch);
  app.mount("/service/notes", rowsService(notes, note).fetch);
  app.route("/service/notes-there", keptTables(databaseOf(notes, "notes"), { notes: note }).service);
  app.route("/service/plots", registry.service);
  app.get("/", (context) => context.redirect("/tree-card/"));
  app.use("/*", serveStatic({ root: relative(process.cwd(), pages) || "." }));
  return new Promise((resolve, reject) => {
    const server = serve({ fetch: app.fetch, port, hostname: "127.0.0.1" }, (info) =>
      resolve({
        address: `http://127.0.0.1:${info.port}`,
        cards: () => rowsOf(cards),
        registry,
        stop: async () => {
          await new Promise((done) => (server.closeAllConnections(), server.close(done)));
          await nursery.close();
          await ordersKept.close();
        },
      }),
    );
    server.on("error", reject);
  });
}
