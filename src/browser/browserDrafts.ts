import type { DBSchema } from "idb";
import { requireOptions } from "../errors/index.ts";
import type { Drafts, StoredDraft } from "../store/index.ts";
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
  const hasty = new HastyDrafts(database);
  return {
    place,
    list: (name) =>
      drafts.use(async (open) => {
        const stored = await open.getAllFromIndex("drafts", "name", name);
        // What a window has written last, it has written in haste.
        const all = new Map([...stored, ...hasty.list(name)].map(({ id, text }) => [id, { id, text }]));
        const { held = [] } = (await locks()?.query()) ?? {};
        for (const lock of held) for (const id of all.keys()) if (lock.name === lockOf(name, id)) all.delete(id);
        return [...all.values()];
      }),
    writeNow: (name, draft) => hasty.write(name, draft),
    write: (name, { id, text }) =>
      drafts.use(async (open) => {
        const work = open.transaction("drafts", "readwrite");
        const putting = work.store.put({ name, id, text });
        // Asked for at once: a window that is left does not hear that the row is there, and would never ask for it.
        work.commit();
        await Promise.all([putting, work.done]);
        hasty.remove(name, id);
      }),
    remove: (name, id) => {
      hasty.remove(name, id);
      return drafts.use((open) => open.delete("drafts", [name, id]));
    },
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

/** Drafts of windows that are being left: kept at once, in what of the browser waits for nothing, until they are in the database too. */
class HastyDrafts {
  readonly #prefix: string;

  constructor(database: string) {
    this.#prefix = `${database} left `;
  }

  /** Runs what a browser may refuse, or have no room for: then what is written later is all there is. */
  #try<T>(work: (storage: Storage) => T): T | undefined {
    try {
      return work(localStorage);
    } catch {
      return undefined;
    }
  }

  #keyOf(name: string, id: string): string {
    return this.#prefix + JSON.stringify([name, id]);
  }

  write(name: string, { id, text }: StoredDraft): void {
    this.#try((storage) => storage.setItem(this.#keyOf(name, id), text));
  }

  remove(name: string, id: string): void {
    this.#try((storage) => storage.removeItem(this.#keyOf(name, id)));
  }

  list(name: string): StoredDraft[] {
    const begin = `${this.#prefix}${JSON.stringify([name]).slice(0, -1)},`;
    const found = this.#try((storage) =>
      Object.keys(storage)
        .filter((key) => key.startsWith(begin))
        .map((key) => {
          const [, id] = JSON.parse(key.slice(this.#prefix.length)) as [string, string];
          return { id, text: storage.getItem(key)! };
        }),
    );
    return found ?? [];
  }
}

/** Only pages of a secure address have them; elsewhere a draft of another window that is open is offered too. */
const locks = (): LockManager | undefined => (navigator as { readonly locks?: LockManager }).locks;
