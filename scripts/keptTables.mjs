// Tables of a database for pages: all rows, changes in, and changes out, as JSON.
import { Hono } from "hono";
import { bodyLimit } from "hono/body-limit";
import { fromJson, StoreError, toJson } from "ironwood/store";

/** A question for what others wrote is answered so many milliseconds later, if nothing was written before. */
const PATIENCE = 20_000;

/**
 * @param models - by the names of their tables
 * @param references - by table and field, the table whose keys it has
 * @returns what answers pages, and what puts in the rows that ship, where nobody has written any yet
 */
export function keptTables(database, models, references = {}) {
  const app = new Hono();
  const tables = new Map(
    Object.entries(models).map(([name, model]) => [
      name,
      { model, store: database.store(model, name, { references: references[name] ?? {} }) },
    ]),
  );
  const tableOf = (name) => {
    const found = tables.get(name);
    if (found === undefined) throw new StoreError("refused", `There is no table ${name}.`);
    return found;
  };
  const sent = (model, { key, version, row }) => ({ key, version, row: toJson(model, row) });
  const changed = (model, { key, now }) => ({ key, ...(now && { now: sent(model, now) }) });
  app.use(bodyLimit({ maxSize: 16 * 1024 * 1024 }));
  app.onError((error, context) => {
    if (!(error instanceof StoreError)) console.error(error);
    const { kind = "refused", message } =
      error instanceof StoreError ? error : { message: "That is no change of rows." };
    return context.json({ kind, message }, kind === "unreachable" ? 503 : 422);
  });
  app.get("/mark", async (context) => context.json({ mark: await database.mark() }));
  app.get("/:table/rows", async (context) => {
    const { model, store } = tableOf(context.req.param("table"));
    const rows = [];
    // A row that can't be read is told as such.
    for await (const each of store.read()) rows.push(each.ok ? sent(model, each) : { problems: each.problems });
    return context.json({ rows });
  });
  app.post("/changes", async (context) => {
    const { id, parts } = await context.req.json();
    if (typeof id !== "string" || !Array.isArray(parts)) throw new StoreError("refused", "That is no change of rows.");
    const read = parts.map(({ table, changes }) => {
      const { model, store } = tableOf(table);
      return { model, store, changes: changes.map((change) => received(model, change)) };
    });
    const results = await database.write(read, { id });
    return context.json(
      results.map((result, index) => {
        const { model } = read[index];
        if (result.ok) return { ...result, written: result.written.map((row) => (row ? sent(model, row) : null)) };
        if (!("conflicts" in result)) return result;
        return { ok: false, conflicts: result.conflicts.map((each) => changed(model, each)) };
      }),
    );
  });
  app.get("/changes", async (context) => {
    const ended = new AbortController();
    const found = await new Promise((done) => {
      const all = [];
      const end = () => {
        clearTimeout(timer);
        ended.abort();
        done(all);
      };
      const timer = setTimeout(end, PATIENCE);
      context.req.raw.signal.addEventListener("abort", end, { once: true });
      const hear = (news) => {
        all.push(news);
        // What was written at the same time comes along.
        setTimeout(end, 5);
      };
      database.follow(context.req.query("since") ?? "", hear, { signal: ended.signal });
    });
    return context.json(
      found.map((news) => {
        if (news.kind === "reload") return { reload: true, mark: news.mark };
        const written = Object.entries(news.tables).map(([name, changes]) => {
          const { model } = tableOf(name);
          return [name, changes.map((each) => changed(model, each))];
        });
        return { id: news.id, mark: news.mark, tables: Object.fromEntries(written) };
      }),
    );
  });
  const begin = async (shipped) => {
    if ((await database.mark()) !== "0") return;
    const parts = Object.entries(shipped).map(([name, rows]) => ({
      store: tableOf(name).store,
      changes: rows.map((row) => ({ kind: "insert", row })),
    }));
    const results = await database.write(parts, { id: "the rows that ship" });
    const refused = results.filter(({ ok }) => !ok);
    if (refused.length > 0)
      throw new Error(`The rows that ship could not be put into ${database.place}: ${JSON.stringify(refused)}`);
  };
  return { service: app, begin };
}

function received(model, change) {
  if (change.kind === "delete") return change;
  const reading = fromJson(model, change.row);
  if (!reading.ok) throw new StoreError("refused", reading.problems[0].message);
  return { ...change, row: reading.row };
}

/** One store, as a database that has only its table. */
export function databaseOf(store, name) {
  return {
    place: store.place,
    store: () => store,
    write: async ([{ changes }], options) => [await store.write(changes, options)],
    mark: () => store.mark(),
    follow: (since, listener, options) =>
      store.follow(
        since,
        (news) => {
          if (news.kind === "reload") listener(news);
          else listener({ kind: "changes", id: news.id, mark: news.mark, tables: { [name]: news.changes } });
        },
        options,
      ),
  };
}
