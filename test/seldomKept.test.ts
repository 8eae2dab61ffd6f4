/** What is asked seldom of what is kept: who is told of trouble, what is left after stop(), drafts in another language. */
import { describe, expect, jest, test } from "@jest/globals";
import { command, editEntry, follow, integer, model, newEntry, notices, table, text } from "../src/index.ts";
import { newId } from "../src/engine/index.ts";
import { keep, keepDraft, loadRows, memoryDrafts, memoryStore, StoreError } from "../src/store/index.ts";

const plant = model({ tag: text({ required: true }), count: integer() }, { key: "tag", title: "Plant" });

test("a memory store is read to its end with a signal, and no further once that has ended it", async () => {
  const store = memoryStore(plant, { rows: ["A", "B", "C"].map((tag) => ({ tag, count: 1 })) });
  const reading = new AbortController();
  const tags: string[] = [];
  for await (const each of store.read({ signal: reading.signal })) if (each.ok) tags.push(each.row.tag);
  expect(tags).toEqual(["A", "B", "C"]);
  const ended = (async (): Promise<void> => {
    for await (const each of store.read({ signal: reading.signal })) {
      tags.push(String(each.ok));
      reading.abort(new Error("enough"));
    }
  })();
  await expect(ended).rejects.toThrow("enough");
  expect(tags).toHaveLength(4);
});

test("what was refused and is taken back is no failure any more", async () => {
  const refusing = memoryStore(plant, { rows: [{ tag: "A", count: 1 }] });
  const stock = table(plant, [], { locale: "en" });
  const kept = await keep(stock, {
    ...refusing,
    write: async () => Promise.reject(new StoreError("refused", "The disk is not yours.")),
  });
  stock.update("A", { count: 2 });
  await kept.write();
  expect(kept.state).toBe("refused");
  stock.update("A", { count: 1 });
  expect(kept.state).toBe("saved");
  stock.update("A", { count: 3 });
  expect(kept.state).toBe("unsaved");
  kept.stop();
});

describe("what is stopped leaves no timer", () => {
  const begun: Readonly<Record<string, () => Promise<{ stop(): void }>>> = {
    "a draft": async () => {
      const entry = newEntry(plant);
      const draft = keepDraft(entry, memoryDrafts(), { name: newId() });
      await draft.ready;
      entry.fields.tag.enter("AB");
      return draft;
    },
    "a kept table": async () => {
      const stock = table(plant, [], { locale: "en" });
      const kept = await keep(stock, memoryStore(plant), { writeAfter: 5_000 });
      stock.insert({ tag: "A", count: 1 });
      return kept;
    },
    "a kept table whose place is out of reach": async () => {
      const stock = table(plant, [], { locale: "en" });
      const gone = async (): Promise<never> => Promise.reject(new StoreError("unreachable", "Nobody is there."));
      const kept = await keep(stock, { ...memoryStore(plant), write: gone });
      stock.insert({ tag: "A", count: 1 });
      await kept.write();
      return kept;
    },
    "a kept table that is to read all again, and can't": async () => {
      const place = memoryStore(plant);
      let tell: ((news: { kind: "reload"; mark: string }) => void) | undefined;
      const store = { ...place, follow: (_since: unknown, listener: typeof tell) => void (tell = listener) };
      const kept = await keep(table(plant, [], { locale: "en" }), store as never);
      Object.assign(store, {
        async *read() {
          yield await Promise.reject(new StoreError("unreachable", "Nobody is there."));
        },
      });
      tell!({ kind: "reload", mark: "" });
      for (let turns = 0; turns < 5; turns++) await new Promise((go) => setImmediate(go));
      return kept;
    },
    "a command": async () => {
      let end = (): void => {};
      const sell = command({ title: "Sell", run: () => new Promise<void>((done) => (end = done)) });
      const done = sell.run();
      return {
        stop() {
          sell.stop();
          end();
          void done;
        },
      };
    },
    "an entry with a rule that asks": async () => {
      const asking = model({ tag: text() }).rule("free", {
        shownAt: ["tag"],
        quiet: 9_000,
        holds: async (row) => Promise.resolve(row.tag !== "x"),
      });
      const entry = newEntry(asking);
      await new Promise((go) => setImmediate(go));
      entry.fields.tag.enter("AB");
      return entry;
    },
  };
  test.each(Object.keys(begun))("%s", async (name) => {
    jest.useFakeTimers({ doNotFake: ["setImmediate", "queueMicrotask", "nextTick", "performance", "Date"] });
    try {
      const thing = await begun[name]!();
      const during = jest.getTimerCount();
      thing.stop();
      await new Promise((go) => setImmediate(go));
      expect([name, during > 0 || name === "a command", jest.getTimerCount()]).toEqual([name, true, 0]);
    } finally {
      jest.useRealTimers();
    }
  });
});

describe("a draft that is taken again", () => {
  const written = async (
    locale: string,
    typed: Readonly<Record<string, string>>,
  ): Promise<ReturnType<typeof memoryDrafts>> => {
    const drafts = memoryDrafts();
    const entry = newEntry(plant, { locale });
    const draft = keepDraft(entry, drafts, { name: "plant" });
    await draft.ready;
    for (const [name, text] of Object.entries(typed)) entry.fields[name as "tag"].enter(text);
    await draft.write();
    draft.stop();
    return drafts;
  };

  test.each([
    ["as it was typed, in the same language", "en", "007", ["007", 7]],
    ["as it is read, in another language", "de", "007", ["7", 7]],
    ["as it was typed, in any language, where it can't be read", "de", "7 or so", ["7 or so", undefined]],
  ] as const)("has a text %s", async (_, locale, typed, wanted) => {
    const drafts = await written("en", { count: typed });
    const entry = newEntry(plant, { locale });
    const draft = keepDraft(entry, drafts, { name: "plant" });
    await draft.ready;
    draft.take();
    draft.stop();
    expect([entry.fields.count.text, entry.fields.count.value]).toEqual(wanted);
  });
});

test("who follows the conflicts of a kept table is told when the row that was deleted here stays deleted", async () => {
  const place = memoryStore(plant, { rows: [{ tag: "A", count: 1 }] });
  const [mine, theirs] = [table(plant, [], { locale: "en" }), table(plant, [], { locale: "en" })];
  const [kept, other] = [await keep(mine, place), await keep(theirs, place)];
  mine.delete("A");
  theirs.update("A", { count: 5 });
  await other.write();
  await kept.write();
  const counts: number[] = [];
  const followed = follow(
    () => kept.conflicts.length,
    (count) => counts.push(count),
  );
  expect(kept.conflicts).toHaveLength(1);
  kept.resolve("A", "mine");
  expect([counts, kept.state]).toEqual([[0], "unsaved"]);
  await kept.write();
  followed.stop();
  for (const each of [kept, other]) each.stop();
  expect([mine.size, theirs.size]).toEqual([0, 0]);
});

test.each(["refused", "unreachable", "conflict"] as const)(
  "that rows are %s is told to the person",
  async (trouble) => {
    const place = memoryStore(plant, { rows: [{ tag: "A", count: 1 }] });
    const [stock, elsewhere] = [table(plant, [], { locale: "en" }), table(plant, [], { locale: "en" })];
    const failing = {
      ...place,
      write: async () => Promise.reject(new StoreError(trouble as "refused", "It can't be.")),
    };
    const kept = await keep(stock, (trouble === "conflict" ? place : failing) as never, { writeAfter: 1 });
    const other = await keep(elsewhere, place);
    const before = new Set(notices.history);
    if (trouble === "conflict") elsewhere.update("A", { count: 7 });
    stock.update("A", { count: 8 });
    await other.write();
    for (let wait = 0; wait < 20 && kept.state !== trouble; wait++) await new Promise((go) => setTimeout(go, 5));
    expect([kept.state, notices.history.filter((each) => !before.has(each) && each.text === kept.said).length]).toEqual(
      [trouble, 1],
    );
    for (const each of [kept, other]) each.stop();
  },
);

test("a conflict ends when here is entered what others have entered", async () => {
  const place = memoryStore(plant, { rows: [{ tag: "A", count: 1 }] });
  const [stock, elsewhere] = [table(plant, [], { locale: "en" }), table(plant, [], { locale: "en" })];
  const [kept, other] = [await keep(stock, place), await keep(elsewhere, place)];
  elsewhere.update("A", { count: 7 });
  stock.update("A", { count: 8 });
  await other.write();
  await kept.write();
  expect([kept.state, kept.conflicts.length]).toEqual(["conflict", 1]);
  stock.update("A", { count: 7 });
  expect([kept.state, kept.conflicts.length, kept.unsaved.length]).toEqual(["saved", 0, 0]);
  for (const each of [kept, other]) each.stop();
});

test("a row that is changed, and in which something is typed too, is in a draft once", async () => {
  const drafts = memoryDrafts();
  const place = memoryStore(plant, { rows: ["A", "B"].map((tag) => ({ tag, count: 1 })) });
  const stock = table(plant, [], { locale: "en" });
  const kept = await keep(stock, place, { drafts });
  stock.update("A", { count: 2 });
  editEntry(stock, "A").fields.count.enter("3");
  editEntry(stock, "B").fields.count.enter("4");
  await kept.draft!.write();
  kept.stop();
  const again = await keep(table(plant, [], { locale: "en" }), place, { drafts });
  await again.draft!.ready;
  expect(again.draft!.offered?.titles).toEqual(["A", "B"]);
  again.stop();
});

test("a line that the reading of an older model fails on is left out, and told with what it says", async () => {
  const older = model({ tag: text(), height: integer() }, { key: "tag" }).formerly({
    read: ({ tag, height }) => {
      if (tag === "B") throw new Error("no height");
      return { height: height === "tall" ? 7 : Number(height) };
    },
  });
  const stock = table(older, [], { locale: "en" });
  const loaded = await loadRows(stock, "tag,height\nA,tall\nB,tall\nC,3");
  expect([...stock]).toEqual([
    { tag: "A", height: 7 },
    { tag: "C", height: 3 },
  ]);
  expect(loaded.problems.map(({ line, message }) => `${line} ${message}`)).toEqual([
    expect.stringMatching(/^3 .*no height/),
  ]);
});
