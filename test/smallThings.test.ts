/** Small things that nobody would miss at once: who is told, what is ended, how things are called. */
import { describe, expect, test } from "@jest/globals";
import type { IronwoodError } from "../src/index.ts";
import {
  editEntry,
  follow,
  followRows,
  integer,
  model,
  newEntry,
  notices,
  oneOf,
  rows,
  table,
  text,
  view,
} from "../src/index.ts";
import { sqliteDatabase } from "../src/sqlite/index.ts";
import {
  type Drafts,
  fromJson,
  keep,
  keepDraft,
  keepTogether,
  memoryDrafts,
  memoryStore,
  StoreError,
} from "../src/store/index.ts";

const plant = model({ tag: text({ required: true }), count: integer() }, { key: "tag", title: "Plant" });

test("what is unsaved of a row is followed by its key, from before it is", async () => {
  const stock = table(plant, [], { locale: "en" });
  const kept = await keep(stock, memoryStore(plant, { rows: [{ tag: "A", count: 1 }] }), { writeAfter: undefined });
  const seen: unknown[] = [];
  const followed = follow(
    () => kept.unsavedOf("A"),
    (now) => seen.push(now),
  );
  stock.update("A", { count: 2 });
  stock.update("A", { count: 1 });
  stock.update("A", { count: 3 });
  await kept.write();
  followed.stop();
  kept.stop();
  expect([kept.unsavedOf("A"), seen[0], seen.at(-1)]).toEqual([undefined, "changed", undefined]);
});

test("an entry is called by the title of its model, or by nothing in particular", () => {
  const message = (entry: unknown): string => {
    try {
      (entry as { answer(name: string, work: () => number): void }).answer("tagg", () => 5);
      return "";
    } catch (error) {
      return (error as IronwoodError).message;
    }
  };
  expect(message(newEntry(plant))).toContain('the entry of "Plant"');
  expect(message(newEntry(model({ tag: text() })))).toContain("the entry of a model");
});

test("a key that there is not is told with the nearest where keys are texts, and with none where they are numbers", () => {
  const numbered = table(model({ bed: integer(), soil: text() }, { key: "bed" }), [{ bed: 12, soil: "clay" }]);
  const named = table(plant, [{ tag: "AB-0042", count: 1 }]);
  expect(() => numbered.update(13, { soil: "sand" })).toThrow(/There is no row with the key 13(?!.*Did you mean)/s);
  expect(() => named.update("AB-0043", { count: 2 })).toThrow(/"AB-0043".*Did you mean "AB-0042"\?/s);
});

test("the values of an entry can be set and listed, and neither taken out nor defined anew", () => {
  const entry = newEntry(plant, { values: { tag: "A", count: 1 } });
  expect([Object.keys(entry.values), { ...entry.values }, "tag" in entry.values, "tagg" in entry.values]).toEqual([
    ["tag", "count"],
    { tag: "A", count: 1 },
    true,
    false,
  ]);
  expect([
    Reflect.deleteProperty(entry.values, "tag"),
    Reflect.defineProperty(entry.values, "tag", { value: "B" }),
    Object.getOwnPropertyDescriptor(entry.values, "tagg"),
    Object.getOwnPropertyDescriptor(entry.values, "count")?.value,
    entry.values.tag,
  ]).toEqual([false, false, undefined, 1, "A"]);
});

test("a calculated field is read only, and never changed, required, unreadable or out of date", () => {
  const card = newEntry(plant.calculated({ twice: (row) => row.count! * 2 }), { values: { tag: "A", count: 2 } });
  card.fields.count.enter("4");
  const { value, changed, required, readOnly, checking, unreadable, outOfDate } = card.fields.twice;
  expect([value, changed, required, readOnly, checking, unreadable, outOfDate]).toEqual([
    8,
    false,
    false,
    true,
    false,
    false,
    false,
  ]);
});

describe("what listens is ended by using, as by stop()", () => {
  test("a draft", async () => {
    const drafts = memoryDrafts();
    const entry = newEntry(plant);
    const draft = keepDraft(entry, drafts, { name: "plant" });
    await draft.ready;
    const written: unknown[] = [];
    const { write } = drafts;
    drafts.write = (...given) => {
      written.push(given);
      return write(...given);
    };
    entry.fields.tag.enter("A");
    await draft.write();
    draft[Symbol.dispose]();
    entry.fields.tag.enter("AB");
    await draft.write();
    expect(written.length).toBe(1);
  });

  test("a follower and a kept table", async () => {
    const stock = table(plant, [], { locale: "en" });
    const kept = await keep(stock, memoryStore(plant, { rows: [{ tag: "A", count: 1 }] }));
    const seen: number[] = [];
    const followed = follow(
      () => view(stock).total("count"),
      (now) => seen.push(now),
    );
    stock.update("A", { count: 2 });
    followed[Symbol.dispose]();
    kept[Symbol.dispose]();
    stock.update("A", { count: 3 });
    expect([seen, kept.unsavedCount]).toEqual([[2], 0]);
  });
});

test("a draft that is no draft in one of its parts is none", async () => {
  const first = newEntry(plant);
  const drafts = memoryDrafts();
  const { write } = drafts;
  let whole = "";
  drafts.write = (name, draft) => {
    whole = draft.text;
    return write(name, draft);
  };
  const draft = keepDraft(first, drafts, { name: "plant" });
  await draft.ready;
  first.fields.tag.enter("A");
  await draft.write();
  draft.stop();
  const offeredFrom = async (text_: string): Promise<unknown> => {
    const given = memoryDrafts();
    await given.write("plant", { id: "x", text: text_ });
    const again = keepDraft(newEntry(plant), given, { name: "plant" });
    await again.ready;
    again.stop();
    return again.offered;
  };
  expect(await offeredFrom(whole)).toMatchObject({ titles: ["Tag"] });
  for (const name of ["begun", "changed", "locale", "content"])
    for (const wrong of [undefined, 5, null, name === "changed" ? "yesterday" : []]) {
      if (name === "content" && Array.isArray(wrong)) continue;
      const broken = JSON.stringify({ ...(JSON.parse(whole) as object), [name]: wrong });
      expect([name, wrong, await offeredFrom(broken)]).toEqual([name, wrong, undefined]);
    }
});

test.each(["a table", "tables together"])("a draft of %s that has anything else in it is none", async (what) => {
  const begin = async (drafts: Drafts) => {
    const stock = table(plant, [], { locale: "en" });
    const options = { drafts, writeAfter: 60_000 };
    const kept =
      what === "a table"
        ? await keep(stock, memoryStore(plant), options)
        : await keepTogether({ stock }, sqliteDatabase(":memory:"), options);
    await kept.draft!.ready;
    return { stock, kept };
  };
  const written: { name: string; text: string }[] = [];
  const first = memoryDrafts();
  const { write } = first;
  first.write = (name, draft) => {
    written.push({ name, text: draft.text });
    return write(name, draft);
  };
  const { stock, kept } = await begin(first);
  stock.insert({ tag: "A", count: 1 });
  await kept.draft!.write();
  kept.stop();
  const { name, text: whole } = written.at(-1)!;
  const { content, ...rest } = JSON.parse(whole) as { content: unknown };
  const withRow = (row: unknown): unknown => (Array.isArray(content) ? [row] : { stock: [row] });
  for (const wrong of [
    null,
    5,
    "x",
    true,
    withRow(null),
    withRow(5),
    withRow({}),
    { stock: 5 },
    { others: [] },
    { stock: null },
  ]) {
    const drafts = memoryDrafts();
    await drafts.write(name, { id: "x", text: JSON.stringify({ ...rest, content: wrong }) });
    const again = await begin(drafts);
    expect([wrong, again.kept.draft!.offered]).toEqual([wrong, undefined]);
    again.kept.stop();
  }
  const drafts = memoryDrafts();
  await drafts.write(name, { id: "x", text: whole });
  const again = await begin(drafts);
  expect([again.kept.draft!.offered?.titles, again.kept.draft!.take(), again.stock.get("A")?.count]).toEqual([
    ["A"],
    [],
    1,
  ]);
  again.kept.stop();
});

test("rows inside a row of an older model are read by what it says of them", () => {
  const line = model({ species: text(), count: integer() });
  const order = model({ code: text(), lines: rows(line) }, { key: "code" }).formerly({
    read: (was) => ({
      lines: (was["lines"] as { name: string; pieces: number }[]).map(({ name, pieces }) => ({
        species: name,
        count: pieces,
      })),
    }),
  });
  expect(fromJson(order, { code: "P-1", lines: [{ name: "Acer", pieces: 3 }] })).toEqual({
    ok: true,
    row: { code: "P-1", lines: [{ species: "Acer", count: 3 }] },
  });
  // What was looked at and could not be worked out stays unread; nothing of the row is dropped.
  const unable = model({ code: text(), lines: rows(line) }, { key: "code" }).formerly({
    read: (was) => (was["lines"] === undefined ? { code: "none" } : {}),
  });
  expect(fromJson(unable, { code: "P-1", lines: [{ name: "Acer", pieces: 3 }] }).ok).toBe(false);
});

test("trouble of a kept table is told once, and again only when it is another, or came after it was well", async () => {
  const stock = table(plant, [], { locale: "en" });
  const store = memoryStore(plant, { rows: [{ tag: "A", count: 1 }] });
  const kept = await keep(stock, store, { writeAfter: 1 });
  const write = store.write.bind(store);
  let failure: string | undefined = "The disk is full.";
  store.write = (...given: Parameters<typeof write>) =>
    failure === undefined ? write(...given) : Promise.reject(new StoreError("refused", failure));
  const told = (): number => notices.history.filter(({ text: said }) => said.includes("disk")).length;
  const settled = async (count: number): Promise<void> => {
    stock.update("A", { count });
    for (let wait = 0; wait < 40; wait++) await new Promise((go) => setTimeout(go, 5));
  };
  await settled(2);
  await settled(3);
  expect([kept.state, told()]).toEqual(["refused", 1]);
  failure = "The disk is gone.";
  await settled(4);
  expect(told()).toBe(2);
  failure = undefined;
  await settled(5);
  expect(kept.state).toBe("saved");
  failure = "The disk is gone.";
  await settled(6);
  expect(told()).toBe(3);
  kept.stop();
});

test("a conflict ends in one of the ways that there are, and in no other", async () => {
  const store = memoryStore(plant, { rows: [{ tag: "A", count: 1 }] });
  const [mine, theirs] = [table(plant, [], { locale: "en" }), table(plant, [], { locale: "en" })];
  const kept = await keep(mine, store, { writeAfter: 10_000 });
  const other = await keep(theirs, store, { writeAfter: 10_000 });
  mine.update("A", { count: 2 });
  theirs.update("A", { count: 3 });
  await other.write();
  await kept.write();
  expect(kept.conflicts.length).toBe(1);
  for (const wrong of [null, "both", 5, undefined])
    expect(() => kept.resolve("A", wrong as never)).toThrow(/resolve was given something else.*"mine", "theirs"/s);
  kept.resolve("A", { count: 5 });
  await kept.write();
  expect([mine.get("A")?.count, kept.state]).toEqual([5, "saved"]);
  kept.stop();
  other.stop();
});

test("who follows how many rows are edited is told when one of them is edited no more", async () => {
  const stock = table(plant, [], { locale: "en" });
  const kept = await keep(stock, memoryStore(plant, { rows: [{ tag: "A", count: 1 }] }));
  const seen: number[] = [];
  const followed = follow(
    () => kept.editingCount,
    (now) => seen.push(now),
  );
  const entry = editEntry(stock, "A");
  entry.fields.count.enter("4");
  entry.stop();
  expect(seen).toEqual([1, 0]);
  followed.stop();
  kept.stop();
});

/** A signal that knows who listens to it. */
function countingSignal(): { signal: AbortSignal; listening: () => number } {
  const controller = new AbortController();
  const { signal } = controller;
  const listeners = new Set<unknown>();
  const [add, remove] = [signal.addEventListener.bind(signal), signal.removeEventListener.bind(signal)];
  signal.addEventListener = ((type: string, listener: never, options: never) => {
    listeners.add(listener);
    add(type, listener, options);
  }) as never;
  signal.removeEventListener = ((type: string, listener: never, options: never) => {
    listeners.delete(listener);
    remove(type, listener, options);
  }) as never;
  return { signal, listening: () => listeners.size };
}

test("who was given a signal and is stopped listens to it no more", async () => {
  const { signal, listening } = countingSignal();
  const stock = table(plant, [], { locale: "en" });
  const tables = await keepTogether({ stock: table(plant, []) }, sqliteDatabase(":memory:"), { signal });
  const things = [
    follow(
      () => stock.size,
      () => undefined,
      { signal },
    ),
    followRows(stock, () => undefined, { signal }),
    await keep(stock, memoryStore(plant), { signal }),
    tables,
  ];
  expect(listening()).toBeGreaterThanOrEqual(things.length);
  for (const thing of things) thing.stop();
  expect(listening()).toBe(0);
});

test("what is kept and stopped follows its place no more", async () => {
  const store = memoryStore(plant, { rows: [{ tag: "A", count: 1 }] });
  const signals: { readonly aborted: boolean }[] = [];
  const followPlace = store.follow.bind(store);
  store.follow = (since, listener, options) => {
    signals.push(options.signal);
    followPlace(since, listener, options);
  };
  const kept = await keep(table(plant, []), store);
  expect(signals.map(({ aborted }) => aborted)).toEqual([false]);
  kept.stop();
  expect(signals.map(({ aborted }) => aborted)).toEqual([true]);
});

test("a rule that fails with another message is followed, and with the same message nobody is told", () => {
  const model_ = model({ count: integer(), bed: integer() }).rule("few", {
    shownAt: ["count"],
    holds: (row) => row.count! < 10 || `${row.count! > 99 ? "Far too" : "Too"} many.`,
  });
  const entry = newEntry(model_, { values: { count: 11 } });
  const seen: unknown[] = [];
  const followed = follow(
    () => entry.fields.count.problems.map(({ message }) => message).join(),
    (now) => seen.push(now),
  );
  let looks = 0;
  const looking = follow(
    () => (looks++, entry.fields.count.problems),
    () => undefined,
  );
  entry.values.count = 100;
  entry.values.count = 101;
  entry.values.count = 12;
  entry.values.count = 1;
  expect(seen).toEqual(["Far too many.", "Too many.", ""]);
  expect(looks).toBe(4);
  followed.stop();
  looking.stop();
});

test("other choices of the same number are followed, and so are other captions of the same values", () => {
  const order = model({ soil: oneOf(["clay", "sand"]), species: oneOf(["Acer", "Tilia", "Betula", "Salix"]) }).choices({
    species: (row) =>
      row.soil === "clay"
        ? ["Acer", "Tilia"]
        : [
            { const: "Acer", title: row.soil === "sand" ? "Acer on sand" : "Acer" },
            { const: "Betula", title: "Betula" },
          ],
  });
  const entry = newEntry(order, { values: { soil: "clay" } });
  const seen: unknown[] = [];
  const followed = follow(
    () => entry.fields.species.choices?.map(({ title }) => title).join(),
    (now) => seen.push(now),
  );
  entry.values.soil = "sand";
  entry.values.soil = undefined;
  entry.values.soil = "clay";
  followed.stop();
  expect(seen).toEqual(["Acer on sand,Betula", "Acer,Betula", "Acer,Tilia"]);
});

test("what others write while all is read again comes after it", async () => {
  const store = memoryStore(plant, { rows: [{ tag: "A", count: 1 }] });
  const stock = table(plant, [], { locale: "en" });
  const kept = await keep(stock, store, { writeAfter: 10_000 });
  const other = table(plant, [], { locale: "en" });
  const theirs = await keep(other, store, { writeAfter: 10_000 });
  const read = store.read.bind(store);
  let isFirst = true;
  store.read = async function* (options) {
    yield* read(options);
    if (!isFirst) return;
    isFirst = false;
    other.update("A", { count: 7 });
    await theirs.write();
    for (let wait = 0; wait < 5; wait++) await new Promise((go) => setTimeout(go, 1));
  };
  await kept.reload();
  for (let wait = 0; wait < 10; wait++) await new Promise((go) => setTimeout(go, 1));
  expect(stock.get("A")?.count).toBe(7);
  kept.stop();
  theirs.stop();
});

test("a place remembers as many changes as it was told to, and who is further behind reads all again", async () => {
  const store = memoryStore(plant, { rows: [{ tag: "A", count: 0 }], remembered: 2 });
  const other = table(plant, [], { locale: "en" });
  const theirs = await keep(other, store, { writeAfter: 10_000 });
  const marks = [await store.mark()];
  for (let count = 1; count <= 3; count++) {
    other.update("A", { count });
    await theirs.write();
    marks.push(await store.mark());
  }
  theirs.stop();
  const kinds: unknown[] = [];
  for (const mark of marks) {
    const told: string[] = [];
    const controller = new AbortController();
    store.follow(mark, ({ kind }) => told.push(kind), { signal: controller.signal });
    for (let wait = 0; wait < 5; wait++) await new Promise((go) => setTimeout(go, 1));
    controller.abort();
    kinds.push(told);
  }
  expect(kinds).toEqual([["reload"], ["changes", "changes"], ["changes"], []]);
});
