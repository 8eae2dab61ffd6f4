import { requireOptions } from "../../errors/index.ts";
import { StoreError } from "../Store.ts";
import type { Drafts, StoredDraft } from "./Drafts.ts";

/** Drafts in memory. */
export interface MemoryDrafts extends Drafts {
  /** Has everything fail with a text from now on; `undefined` ends that. */
  failWith(reason: string | undefined): void;
  /** As if every window and program that works on a draft had ended. */
  letGo(): void;
}

/**
 * Drafts in memory, gone with the program: for tests and demonstrations.
 *
 * @param options - `place`: what people call it, default `memory`
 * @throws `unknownOption`, `wrongOption`
 * @example const draft = keepDraft(card, memoryDrafts(), { name: "tree card" });
 */
export function memoryDrafts(options: { readonly place?: string | undefined } = {}): MemoryDrafts {
  requireOptions("memoryDrafts", options, { place: "text" });
  const { place = "memory" } = options;
  const drafts = new Map<string, Map<string, string>>();
  const held = new Set<string>();
  let failure: string | undefined;
  const ready = (): Promise<void> =>
    failure === undefined ? Promise.resolve() : Promise.reject(new StoreError("refused", failure));
  const keyOf = (name: string, id: string): string => JSON.stringify([name, id]);
  return {
    place,
    async list(name) {
      await ready();
      return [...(drafts.get(name) ?? [])]
        .filter(([id]) => !held.has(keyOf(name, id)))
        .map(([id, text]): StoredDraft => ({ id, text }));
    },
    async write(name, { id, text }) {
      await ready();
      const all = drafts.get(name) ?? new Map<string, string>();
      drafts.set(name, all.set(id, text));
    },
    async remove(name, id) {
      await ready();
      drafts.get(name)?.delete(id);
    },
    async hold(name, id, { signal }) {
      await ready();
      held.add(keyOf(name, id));
      signal.addEventListener("abort", () => held.delete(keyOf(name, id)), { once: true });
    },
    failWith(reason) {
      failure = reason;
    },
    letGo: () => held.clear(),
  };
}
