// Rows of a store for pages: all rows, changes in, and changes out, as JSON.
import { Hono } from "hono";
import { bodyLimit } from "hono/body-limit";
import { fromJson, StoreError, toJson } from "ironwood/store";

/** A question for what others wrote is answered so many milliseconds later, if nothing was written before. */
const PATIENCE = 20_000;

export function keptRows(store, model) {
  const app = new Hono();
  const sent = ({ key, version, row }) => ({ key, version, row: toJson(model, row) });
  const changed = ({ key, now }) => ({ key, ...(now && { now: sent(now) }) });
  app.use(bodyLimit({ maxSize: 16 * 1024 * 1024 }));
  app.onError((error, context) => {
    if (!(error instanceof StoreError)) console.error(error);
    const { kind = "refused", message } =
      error instanceof StoreError ? error : { message: "That is no change of rows." };
    return context.json({ kind, message }, kind === "unreachable" ? 503 : 422);
  });
  app.get("/mark", async (context) => context.json({ mark: await store.mark() }));
  app.get("/rows", async (context) => {
    const rows = [];
    // A row that can't be read is told as such.
    for await (const each of store.read()) rows.push(each.ok ? sent(each) : { problems: each.problems });
    return context.json({ rows });
  });
  app.post("/changes", async (context) => {
    const { id, changes } = await context.req.json();
    const read = changes.map((change) => {
      if (change.kind === "delete") return change;
      const reading = fromJson(model, change.row);
      if (!reading.ok) throw new StoreError("refused", reading.problems[0].message);
      return { ...change, row: reading.row };
    });
    const result = await store.write(read, { id });
    if (result.ok) return context.json({ ...result, written: result.written.map((row) => (row ? sent(row) : null)) });
    return context.json("conflicts" in result ? { ok: false, conflicts: result.conflicts.map(changed) } : result);
  });
  app.get("/changes", async (context) => {
    const ended = new AbortController();
    const news = await new Promise((done) => {
      const found = [];
      const end = () => {
        clearTimeout(timer);
        ended.abort();
        done(found);
      };
      const timer = setTimeout(end, PATIENCE);
      context.req.raw.signal.addEventListener("abort", end, { once: true });
      const hear = (each) => {
        found.push(
          each.kind === "reload" ? { reload: true, mark: each.mark } : { ...each, changes: each.changes.map(changed) },
        );
        // What was written at the same time comes along.
        setTimeout(end, 5);
      };
      store.follow(context.req.query("since") ?? "", hear, { signal: ended.signal });
    });
    return context.json(news);
  });
  return app;
}

/** Puts in the rows that ship, where nobody has written any yet. */
export async function begin(store, rows) {
  if ((await store.mark()) !== "0") return;
  const result = await store.write(
    rows.map((row) => ({ kind: "insert", row })),
    { id: "the rows that ship" },
  );
  if (!result.ok) throw new Error(`The rows that ship could not be put into ${store.place}.`);
}
