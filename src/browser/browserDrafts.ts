import type { DBSchema } from "idb";
import { requireOptions } from "../errors/index.ts";
import type { Drafts } from "../store/index.ts";
import { BrowserDatabase } from "./database.ts";

interface DraftRecord {
  readonly name: string;
  readonly id: string;
  readonly text: string;
}

interface DraftsSchema extends DBSchema {
  drafts: { key: [string, string]; value: DraftRecord; indexes: { name: string } };
}

/** What others are told of a draft that is worked on: a lock of the browser, which is let go when the window ends in whatever way. */
const lockOf = (name: string, id: string): string => `ironwood draft ${JSON.stringify([name, id])}`;

/**
 * Drafts in this browser (IndexedDB), for this page's origin. Each window has drafts of its own; those of windows that are gone are offered.
 *
 * @param options - `name`: of the database; pages with one name share their drafts. Default: `ironwood drafts`
 * @throws `unknownOption`, `wrongOption`
 * @example const draft = keepDraft(note, browserDrafts(), { name: "field note" });
 */
export function browserDrafts(options: { readonly name?: string | undefined } = {}): Drafts {
  requireOptions("browserDrafts", options, { name: "text" });
  const { name: database = "ironwood drafts" } = options;
  const place = "the drafts of this page";
  const drafts = new BrowserDatabase<DraftsSchema>(database, place, (made) => {
    made.createObjectStore("drafts", { keyPath: ["name", "id"] }).createIndex("name", "name");
  });
  return {
    place,
    list: (name) =>
      drafts.use(async (open) => {
        const all = await open.getAllFromIndex("drafts", "name", name);
        const { held = [] } = (await locks()?.query()) ?? {};
        const busy = new Set(held.map((lock) => lock.name));
        return all.filter((each) => !busy.has(lockOf(name, each.id))).map(({ id, text }) => ({ id, text }));
      }),
    write: (name, { id, text }) =>
      drafts.use(async (open) => {
        const work = open.transaction("drafts", "readwrite");
        const putting = work.store.put({ name, id, text });
        // Asked for at once: a window that is left does not hear that the row is there, and would never ask for it.
        work.commit();
        await Promise.all([putting, work.done]);
      }),
    remove: (name, id) => drafts.use((open) => open.delete("drafts", [name, id])),
    hold: (name, id, { signal }) =>
      new Promise((held) => {
        const all = locks();
        if (all === undefined) return held();
        const ended = new Promise<void>((done) => signal.addEventListener("abort", () => done(), { once: true }));
        void all
          .request(lockOf(name, id), () => {
            held();
            return ended;
          })
          .catch(() => held());
      }),
  };
}

/** Only pages of a secure address have them; elsewhere a draft of another window that is open is offered too. */
const locks = (): LockManager | undefined => (navigator as { readonly locks?: LockManager }).locks;
