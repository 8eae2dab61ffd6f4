/** Tables that are kept at a place: what is unsaved, what is written, what others write, what fails. */
import { describe, expect, test } from "@jest/globals";
import { editEntry, integer, model, newHistory, type RowOf, table, text, transaction, view } from "../src/index.ts";
import { keep, type Kept, type KeptState, type MemoryStore, memoryStore } from "../src/store/index.ts";
import { seeded, times } from "./seeded.ts";

const plant = model({ tag: text(), bed: integer({ minimum: 0 }), notes: text(), count: integer() }, { key: "tag" });
type Plant = RowOf<typeof plant>;
type Place = MemoryStore<Plant, string>;

const row = (tag: string, bed = 1, notes = "", count = 0): Plant => ({ tag, bed, notes, count });
const shown = (rows: Iterable<Plant>): string[] => [...rows].map((each) => Object.values(each).join("|")).sort();

async function there(store: Place): Promise<string[]> {
  const rows: Plant[] = [];
  for await (const each of store.again().read()) if (each.ok) rows.push(each.row);
  return shown(rows);
}

/** Lets what is told between windows arrive. */
const arrive = (): Promise<void> => new Promise((go) => setTimeout(go, 2));

/** Waits until it stands so, or for five seconds. */
async function comesTo(kept: Kept<typeof plant>, state: KeptState): Promise<void> {
  for (const end = Date.now() + 5_000; kept.state !== state && Date.now() < end;) await arrive();
}

async function opened(rows: readonly Plant[], options: Parameters<typeof keep>[2] = {}) {
  const store: Place = memoryStore(plant, { rows, place: "nursery" });
  const stock = table(plant, [], { locale: "en", history: newHistory() });
  const kept = await keep(stock, store, options);
  return { store, stock, kept };
}

/** Another window at the same place. */
async function another(store: Place) {
  const stock = table(plant, [], { locale: "en" });
  return { stock, kept: await keep(stock, store.again()) };
}

const unsaved = ({ unsaved: rows }: Kept<typeof plant>): string[] =>
  rows.map(({ kind, key, fields }) => `${kind} ${key}: ${fields.join()}`);

describe("what is unsaved", () => {
  test("is known by row and field, follows undo, and is written when it is said", async () => {
    const { store, stock, kept } = await opened([row("A"), row("B"), row("C")]);
    expect([kept.state, kept.said, kept.unsavedCount, shown(stock)]).toEqual([
      "saved",
      "Everything is saved in nursery.",
      0,
      ["A|1||0", "B|1||0", "C|1||0"],
    ]);
    stock.update("A", { bed: 7 });
    stock.delete("B");
    stock.insert(row("D", 4));
    expect(unsaved(kept)).toEqual(["deleted B: tag,bed,count", "changed A: bed", "new D: tag,bed,count"]);
    expect([kept.unsavedOf("A"), kept.unsavedOf("B"), kept.unsavedOf("C"), kept.unsavedOf("D")]).toEqual([
      "changed",
      undefined,
      undefined,
      "new",
    ]);
    expect([kept.state, kept.said]).toEqual(["unsaved", "3 rows not saved yet."]);
    expect(await there(store)).toEqual(["A|1||0", "B|1||0", "C|1||0"]);
    expect(await kept.write()).toEqual({ ok: true, rows: 3, said: "3 rows saved in nursery." });
    expect([kept.state, kept.unsavedCount]).toEqual(["saved", 0]);
    expect(await there(store)).toEqual(["A|7||0", "C|1||0", "D|4||0"]);
    // To take back what is saved is a new change.
    stock.history!.undo();
    expect(unsaved(kept)).toEqual(["deleted D: tag,bed,count"]);
    stock.history!.redo();
    expect([unsaved(kept), await kept.write()]).toEqual([
      [],
      { ok: true, rows: 0, said: "Everything is saved in nursery." },
    ]);
  });

  test("is taken back by row, and all of it; and that can be undone", async () => {
    const { stock, kept } = await opened([row("A"), row("B")]);
    stock.update("A", { bed: 7 });
    stock.update("B", { tag: "Z" });
    stock.insert(row("D"));
    expect(kept.revert("A")).toEqual({ ok: true, row: undefined });
    expect(unsaved(kept)).toEqual(["changed Z: tag", "new D: tag,bed,count"]);
    expect(() => kept.revert("C")).toThrow(/no row that is unsaved with the key "C".*"Z", "D"/s);
    kept.revert();
    expect([unsaved(kept), shown(stock)]).toEqual([[], ["A|1||0", "B|1||0"]]);
    stock.history!.undo();
    expect(unsaved(kept)).toEqual(["changed Z: tag", "new D: tag,bed,count"]);
  });

  test("is nothing after a transaction that failed, and rows may exchange their keys", async () => {
    const { store, stock, kept } = await opened([row("A", 1), row("B", 2)]);
    expect(() =>
      transaction(() => {
        stock.update("A", { bed: 7 });
        throw new Error("no");
      }),
    ).toThrow("no");
    expect([unsaved(kept), kept.state]).toEqual([[], "saved"]);
    transaction(() => {
      stock.update("A", { tag: "C" });
      stock.update("B", { tag: "A" });
      stock.update("C", { tag: "B" });
    });
    expect(await kept.write()).toMatchObject({ ok: true, rows: 2 });
    expect(await there(store)).toEqual(["A|2||0", "B|1||0"]);
    stock.update("B", { notes: "x" });
    expect([await kept.write(), await there(store)]).toMatchObject([{ ok: true }, ["A|2||0", "B|1|x|0"]]);
  });

  test("is what comes into the table while its rows are still being read, also under a key of the place", async () => {
    const store: Place = memoryStore(plant, { rows: [row("A"), row("B")], place: "nursery" });
    const stock = table(plant, [], { locale: "en" });
    const keeping = keep(stock, store);
    stock.insert(row("A", 5));
    stock.insert(row("C"));
    const kept = await keeping;
    expect([shown(stock), unsaved(kept)]).toEqual([
      ["A|5||0", "B|1||0", "C|1||0"],
      ["changed A: bed", "new C: tag,bed,count"],
    ]);
    expect([(await kept.write()).ok, await there(store)]).toEqual([true, ["A|5||0", "B|1||0", "C|1||0"]]);
  });

  test("is written after a while without a change, and what is changed meanwhile after that", async () => {
    const { store, stock, kept } = await opened([row("A")], { writeAfter: 20 });
    stock.update("A", { bed: 2 });
    await new Promise((go) => setTimeout(go, 10));
    stock.update("A", { bed: 3 });
    await new Promise((go) => setTimeout(go, 13));
    expect(await there(store)).toEqual(["A|1||0"]);
    await comesTo(kept, "saved");
    expect(await there(store)).toEqual(["A|3||0"]);
    const writing = kept.write();
    stock.update("A", { bed: 4 });
    await Promise.all([writing, kept.write()]);
    expect(await there(store)).toEqual(["A|4||0"]);
    kept.stop();
    stock.update("A", { bed: 9 });
    await new Promise((go) => setTimeout(go, 40));
    expect([await there(store), kept.said]).toEqual([["A|4||0"], "These rows are not saved in nursery any more."]);
  });
});

describe("a place that fails", () => {
  test("keeps everything here, says why, and a retry does it once", async () => {
    const { store, stock, kept } = await opened([row("A")]);
    stock.update("A", { bed: 2 });
    store.failNext("full");
    expect(await kept.write()).toMatchObject({ ok: false, state: "refused" });
    expect(kept.said).toMatch(/^1 row not saved: .*nursery.*What you entered is still here\.$/);
    expect(unsaved(kept)).toEqual(["changed A: bed"]);
    expect([(await kept.write()).ok, await there(store)]).toEqual([true, ["A|2||0"]]);
    // The answer is lost: the row is there, and asking again does not put it there twice.
    stock.insert(row("B"));
    store.failNext("lostAnswer");
    expect(await kept.write()).toMatchObject({ ok: false, state: "unreachable" });
    expect(kept.said).toMatch(/not saved yet: .*tried again/);
    stock.update("B", { bed: 8 });
    stock.insert(row("C"));
    expect([(await kept.write()).ok, await there(store)]).toEqual([true, ["A|2||0", "B|8||0", "C|1||0"]]);
  });

  test("whose write is stopped by a signal is asked what became of it, and what was entered after that waits for a person", async () => {
    const { store, stock, kept } = await opened([row("A"), row("B")]);
    stock.update("A", { bed: 2 });
    store.failNext("lostAnswer");
    const controller = new AbortController();
    const writing = kept.write({ signal: controller.signal });
    controller.abort(new Error("enough"));
    await expect(writing).rejects.toThrow("enough");
    stock.update("B", { bed: 3 });
    for (const end = Date.now() + 5_000; kept.unsavedCount > 1 && Date.now() < end;) await arrive();
    expect([await there(store), unsaved(kept)]).toEqual([["A|2||0", "B|1||0"], ["changed B: bed"]]);
    await memoryPut(store, row("C"));
    await arrive();
    expect(shown(stock)).toEqual(["A|2||0", "B|3||0", "C|1||0"]);
    kept.stop();
  });

  test("that has forgotten what was written meanwhile, and can't be read at first, is read again", async () => {
    const store: Place = memoryStore(plant, { rows: [row("A"), row("B")], place: "nursery", remembered: 1 });
    const stock = table(plant, [], { locale: "en" });
    let tell: (news: { kind: "reload"; mark: string }) => void = () => {};
    const own = store.again();
    const kept = await keep(stock, { ...own, follow: (_, listener) => void (tell = listener) });
    stock.update("B", { bed: 9 });
    for (const tag of ["C", "D", "E"]) await memoryPut(store, row(tag));
    own.failNext("unreachable");
    tell({ kind: "reload", mark: await store.mark() });
    for (const end = Date.now() + 3_000; stock.size < 5 && Date.now() < end;) await arrive();
    expect([shown(stock), unsaved(kept)]).toEqual([
      ["A|1||0", "B|9||0", "C|1||0", "D|1||0", "E|1||0"],
      ["changed B: bed"],
    ]);
    kept.stop();
  });

  test("is tried again by itself when it was out of reach, and only then", async () => {
    const { store, stock, kept } = await opened([row("A")], { writeAfter: 1 });
    store.failNext("unreachable");
    stock.update("A", { bed: 2 });
    await comesTo(kept, "unreachable");
    await comesTo(kept, "saved");
    expect([kept.state, await there(store)]).toEqual(["saved", ["A|2||0"]]);
    store.failNext("refused");
    stock.update("A", { bed: 3 });
    await comesTo(kept, "refused");
    await new Promise((go) => setTimeout(go, 1_200));
    expect([kept.state, await there(store)]).toEqual(["refused", ["A|2||0"]]);
    kept.stop();
  });

  test("that refuses one row gets the others; the reason is at the row until it is changed", async () => {
    const { store, stock, kept } = await opened([row("A")]);
    const other = await another(store);
    stock.insert(row("B", 1, "mine"));
    stock.insert(row("C"));
    other.stock.insert(row("B", 1, "theirs"));
    other.kept.stop();
    await memoryPut(store, row("D"));
    await arrive();
    stock.update("A", { tag: "D2" });
    expect(stock.update("D2", { tag: "E" }).ok).toBe(true);
    const result = await kept.write();
    expect(result.ok).toBe(true);
    expect(await there(store)).toEqual(["B|1|mine|0", "C|1||0", "D|1||0", "E|1||0"]);
  });

  test("takes no row whose key another one got meanwhile, and says so at the row", async () => {
    const { store, stock, kept } = await opened([row("A"), row("B")]);
    // Both are put in before one hears of the other.
    const other = await another(store);
    other.kept.stop();
    stock.update("A", { tag: "N" });
    stock.update("B", { bed: 5 });
    const put = memoryPut(store, row("N", 9));
    const result = await kept.write();
    await put;
    await arrive();
    const after = await kept.write();
    expect([result.ok, after.ok]).toContain(false);
    expect(kept.state).toBe("refused");
    expect(kept.said).toBe("1 row not saved: Another row in nursery has this already. What you entered is still here.");
    expect(stock.problemsOf(stock.get("N")!)).toMatchObject([{ code: "keyTaken", pointer: "/tag" }]);
    expect(await there(store)).toEqual(["A|1||0", "B|5||0", "N|9||0"]);
    // Under another key it is taken, and the row of the others is shown too.
    stock.update("N", { tag: "N2" });
    expect(await kept.write()).toMatchObject({ ok: true });
    expect(shown(stock)).toEqual(["B|5||0", "N2|1||0", "N|9||0"]);
    expect(await there(store)).toEqual(["B|5||0", "N2|1||0", "N|9||0"]);
  });

  test("that can't be read leaves the table free, and rows that can't be read are told", async () => {
    const store: Place = memoryStore(plant, { rows: [row("A")], place: "nursery" });
    const stock = table(plant, [], { locale: "en" });
    store.failNext("unreachable");
    await expect(keep(stock, store)).rejects.toThrow("nursery");
    stock.load([row("Z")]);
    await expect(keep(stock, store)).rejects.toThrow(/1 rows.*store\.write\(\)/s);
    stock.load([]);
    const kept = await keep(stock, store);
    expect(shown(stock)).toEqual(["A|1||0"]);
    expect(() => stock.load([])).toThrow(/kept in nursery.*kept\.reload\(\)/s);
    await expect(keep(stock, store)).rejects.toThrow(/already/);
    kept.stop();
    const doubled = {
      ...store,
      *read() {
        yield { ok: true as const, line: 1, key: "A", version: "1", row: row("A") };
        yield {
          ok: false as const,
          line: 2,
          problems: [{ code: "badInput", message: "?", severity: "error", pointer: "" }],
        };
        yield { ok: true as const, line: 3, key: "A", version: "1", row: row("A", 2) };
      },
    } as unknown as Place;
    const odd = await keep(table(plant, [], { locale: "en" }), doubled);
    expect([odd.leftOut.map(({ line }) => line), odd.said]).toEqual([
      [2, 3],
      "Everything is saved in nursery. 2 rows of nursery can’t be read, and are left there as they are.",
    ]);
    odd.stop();
  });
});

/** Somebody else puts a row there. */
const memoryPut = (store: Place, each: Plant): Promise<unknown> => store.again().append(each);

describe("what others write", () => {
  test("comes into the table, is not unsaved, and can't be undone here", async () => {
    const { store, stock, kept } = await opened([row("A"), row("B")]);
    const other = await another(store);
    other.stock.update("A", { bed: 5 });
    other.stock.delete("B");
    other.stock.insert(row("C"));
    await other.kept.write();
    await arrive();
    expect([shown(stock), kept.unsavedCount, stock.history!.undo().ok]).toEqual([["A|5||0", "C|1||0"], 0, false]);
    // Of one row, fields that only one side has changed are both kept.
    stock.update("A", { notes: "here" });
    other.stock.update("A", { bed: 6 });
    await other.kept.write();
    await arrive();
    expect([shown(stock), unsaved(kept)]).toEqual([["A|6|here|0", "C|1||0"], ["changed A: notes"]]);
    await kept.write();
    await arrive();
    expect([await there(store), shown(other.stock)]).toEqual([
      ["A|6|here|0", "C|1||0"],
      ["A|6|here|0", "C|1||0"],
    ]);
  });

  test("to the same field is asked about: mine, theirs, or another; other rows are written meanwhile", async () => {
    for (const [choice, wanted] of [
      ["mine", "A|2|here and there|7"],
      ["theirs", "A|3|here and there|7"],
      [{ bed: 9, notes: "chosen" }, "A|9|chosen|7"],
    ] as const) {
      const { store, stock, kept } = await opened([row("A"), row("B")]);
      const other = await another(store);
      stock.update("A", { bed: 2, notes: "here and there" });
      stock.update("B", { bed: 8 });
      other.stock.update("A", { bed: 3, count: 7 });
      await other.kept.write();
      await arrive();
      expect(kept.conflicts).toMatchObject([
        {
          key: "A",
          mine: { bed: 2 },
          theirs: { bed: 3 },
          base: { bed: 1 },
          fields: { bed: { mine: 2, theirs: 3, base: 1 } },
        },
      ]);
      expect([kept.state, kept.said, kept.unsavedOf("A"), kept.unsavedOf("B")]).toEqual([
        "conflict",
        "1 row changed here and elsewhere: choose what is right.",
        "conflict",
        "changed",
      ]);
      expect(await kept.write()).toMatchObject({ ok: false, state: "conflict" });
      expect(await there(store)).toEqual(["A|3||7", "B|8||0"]);
      expect(() => kept.resolve("B", "mine")).toThrow(/in conflict with the key "B"/);
      kept.resolve("A", choice);
      expect([kept.conflicts.length, (await kept.write()).ok]).toEqual([0, true]);
      expect(await there(store)).toContain(wanted);
    }
  });

  test("a row that one side deleted and the other changed is kept until somebody chooses", async () => {
    for (const isMineDeleted of [true, false])
      for (const choice of ["mine", "theirs"] as const) {
        const { store, stock, kept } = await opened([row("A")]);
        const other = await another(store);
        const [deletes, changes] = isMineDeleted ? [stock, other.stock] : [other.stock, stock];
        deletes.delete("A");
        changes.update("A", { bed: 4 });
        await other.kept.write();
        await arrive();
        expect(kept.conflicts).toMatchObject([{ key: "A", fields: {} }]);
        kept.resolve("A", choice);
        expect(await kept.write()).toMatchObject({ ok: true });
        const stays = isMineDeleted === (choice === "theirs");
        expect([await there(store), shown(stock)]).toEqual(stays ? [["A|4||0"], ["A|4||0"]] : [[], []]);
      }
  });

  test("is found out by a version, where nobody is told of it, and by reading again", async () => {
    const deaf = async (store: Place) => {
      const stock = table(plant, [], { locale: "en" });
      return { stock, kept: await keep(stock, { ...store.again(), follow: () => {} }) };
    };
    const { store, stock, kept } = await opened([row("A"), row("B"), row("C")]);
    const other = await deaf(store);
    stock.update("A", { bed: 2 });
    stock.update("B", { bed: 2 });
    stock.delete("C");
    stock.insert(row("D"));
    await kept.write();
    other.stock.update("A", { notes: "x" });
    other.stock.update("B", { bed: 3 });
    expect(await other.kept.write()).toMatchObject({ ok: false, state: "conflict" });
    expect(await there(store)).toEqual(["A|2|x|0", "B|2||0", "D|1||0"]);
    expect(await other.kept.reload()).toMatchObject({ ok: true, rows: 3 });
    expect(shown(other.stock)).toEqual(["A|2|x|0", "B|3||0", "D|1||0"]);
    other.kept.resolve("B", "mine");
    expect([(await other.kept.write()).ok, await there(store)]).toEqual([true, ["A|2|x|0", "B|3||0", "D|1||0"]]);
  });

  test("and what is written here, while all is read again, is not covered by what was read before it", async () => {
    const store: Place = memoryStore(plant, { rows: [row("A"), row("B")], place: "nursery" });
    const stock = table(plant, [], { locale: "en" });
    const own = store.again();
    let isSlow = false;
    const kept = await keep(stock, {
      ...own,
      // What is read is as it was when the reading began.
      async *read() {
        const found = [];
        for await (const each of own.read()) found.push(each);
        if (isSlow) await new Promise((go) => setTimeout(go, 30));
        yield* found;
      },
    });
    const other = await another(store);
    isSlow = true;
    const reading = kept.reload();
    await arrive();
    stock.update("A", { bed: 5 });
    const writing = kept.write();
    other.stock.update("B", { bed: 6 });
    await other.kept.write();
    expect([(await reading).ok, (await writing).ok]).toEqual([true, true]);
    await arrive();
    const wanted = ["A|5||0", "B|6||0"];
    expect([shown(stock), await there(store), kept.unsavedCount]).toEqual([wanted, wanted, 0]);
    kept.stop();
    expect(() => kept.revert()).toThrow(/kept in nursery no more.*keep\(\) again/s);
    expect(await kept.reload()).toMatchObject({ ok: false, state: "stopped" });
  });

  test("may break what the model says together with what is entered here: then it is not written", async () => {
    const ordered = model({ tag: text(), low: integer(), high: integer() }, { key: "tag" }).rule("order", {
      shownAt: ["high"],
      holds: ({ low, high }) => (low ?? 0) <= (high ?? 0) || "Low is above high.",
    });
    const store = memoryStore(ordered, { rows: [{ tag: "A", low: 1, high: 5 }], place: "nursery" });
    const [mine, theirs] = [table(ordered, [], { locale: "en" }), table(ordered, [], { locale: "en" })];
    const [kept, other] = [await keep(mine, store), await keep(theirs, store.again())];
    mine.update("A", { low: 4 });
    theirs.update("A", { high: 2 });
    await other.write();
    await arrive();
    expect(await kept.write()).toMatchObject({ ok: false, state: "refused" });
    expect(kept.said).toBe("1 row not saved: Low is above high. What you entered is still here.");
    expect(kept.unsaved).toMatchObject([{ key: "A", problems: [{ message: "Low is above high." }] }]);
    mine.update("A", { low: 2 });
    expect(await kept.write()).toMatchObject({ ok: true });
  });
});

describe("rows without a key of their own", () => {
  const note = model({ subject: text(), bed: integer() });
  test("are kept under keys of the place: equal ones apart, also when two windows put them in", async () => {
    const store = memoryStore(note, { rows: [{ subject: "a", bed: 1 }], place: "notes" });
    const open = async () => {
      const notes = table(note, [], { locale: "en" });
      return { notes, kept: await keep(notes, store.again()) };
    };
    const [one, two] = [await open(), await open()];
    const list = ({ notes }: typeof one): string[] => [...notes].map(({ subject, bed }) => `${subject}${bed}`).sort();
    one.notes.insert({ subject: "b", bed: 1 });
    two.notes.insert({ subject: "b", bed: 1 });
    await one.kept.write();
    await two.kept.write();
    await arrive();
    expect([list(one), list(two)]).toEqual([
      ["a1", "b1", "b1"],
      ["a1", "b1", "b1"],
    ]);
    const [first] = [...one.notes];
    one.notes.update(one.notes.keyOf(first!), { bed: 7 });
    two.notes.delete(two.notes.keyOf([...two.notes].at(-1)!));
    await one.kept.write();
    await two.kept.write();
    await arrive();
    expect([list(one), list(two), one.kept.unsavedCount]).toEqual([["a7", "b1"], ["a7", "b1"], 0]);
    const key = one.notes.keyOf([...one.notes][0]!);
    one.notes.delete(key);
    one.kept.revert(key);
    expect([list(one), one.kept.unsavedCount]).toEqual([["a7", "b1"], 0]);
  });
});

/** Three windows at one place, of which the last is not told what others write, and finds out by versions. */
const threeWindows = (store: Place) =>
  Promise.all(
    [0, 1, 2].map(async (number) => {
      const stock = table(plant, [], { locale: "en" });
      const own = store.again();
      return { stock, own, kept: await keep(stock, number === 2 ? { ...own, follow: () => {} } : own) };
    }),
  );
type Window = Awaited<ReturnType<typeof threeWindows>>[number];

describe("a row that has the key of a row that was deleted", () => {
  test("stays when all is read again, and all of it can be taken back", async () => {
    const store = memoryStore(plant, { rows: ["A", "B", "D"].map((tag) => row(tag)), place: "nursery" });
    const stock = table(plant, [], { locale: "en" });
    const kept = await keep(stock, store);
    stock.delete("D");
    stock.delete("A");
    stock.update("B", { tag: "D", bed: 7 });
    await kept.reload();
    expect([...stock].map(({ tag, bed }) => [tag, bed])).toEqual([["D", 7]]);
    expect(kept.unsaved.map(({ kind, key }) => `${kind} ${key}`).sort()).toEqual([
      "changed D",
      "deleted A",
      "deleted D",
    ]);
    expect(kept.revert().ok).toBe(true);
    expect([[...stock].map(({ tag }) => tag).sort(), kept.state]).toEqual([["A", "B", "D"], "saved"]);
    stock.delete("D");
    stock.update("B", { tag: "D", bed: 7 });
    expect(await kept.write()).toMatchObject({ ok: true });
    await kept.reload();
    expect([...stock].map(({ tag, bed }) => [tag, bed]).sort()).toEqual([
      ["A", 1],
      ["D", 7],
    ]);
    kept.stop();
  });
});

describe("several windows at one place", () => {
  const SEQUENCES = times(2_000, 0.06);
  const tags = ["A", "B", "C", "D"];

  test(`${SEQUENCES} sequences of edits, writes, faults and choices: nothing is lost unseen, and all end alike`, async () => {
    const random = seeded(20261129);
    const { below, pick } = random;
    let conflicts = 0;
    let failures = 0;
    for (let sequence = 0; sequence < SEQUENCES; sequence += 1) {
      const store: Place = memoryStore(plant, {
        rows: tags.slice(0, below(4)).map((tag) => row(tag)),
        place: "nursery",
      });
      const windows = await threeWindows(store);
      const change = ({ stock }: Window): void => {
        const keys = [...stock].map(({ tag }) => tag);
        const free = tags.filter((tag) => !keys.includes(tag));
        const act = below(6);
        if (free.length > 0 && (keys.length === 0 || act === 0)) stock.insert(row(pick(free), below(3)));
        else if (keys.length === 0) return;
        else if (act === 1) stock.delete(pick(keys));
        else if (act === 2 && free.length > 0) stock.update(pick(keys), { tag: pick(free) });
        else stock.update(pick(keys), pick([{ bed: below(4) }, { notes: pick(["x", "y"]) }, { count: below(4) }]));
      };
      const settle = async ({ kept }: Window): Promise<void> => {
        for (const { key, mine, theirs } of kept.conflicts) {
          conflicts += 1;
          expect(mine ?? theirs).toBeDefined();
          kept.resolve(key, pick(["mine", "theirs"]));
        }
        await kept.write();
      };
      for (let step = 0; step < 14; step += 1) {
        const window = pick(windows);
        const act = below(9);
        if (act === 0) {
          window.own.failNext(pick(["full", "unreachable", "lostAnswer", "refused"] as const));
          failures += 1;
        }
        if (act < 2) await window.kept.write();
        else if (act === 2) await settle(window);
        else if (act === 3) void window.kept.write();
        else if (act === 4) await window.kept.reload();
        else if (act === 8) void window.kept.reload();
        else change(window);
        if (below(3) === 0) await arrive();
      }
      for (let round = 0; round < 12; round += 1) {
        for (const window of windows) {
          await window.kept.reload();
          await settle(window);
        }
        // A key that two rows want is given to one of them.
        for (const { kept, stock } of windows)
          for (const { key, problems } of kept.unsaved)
            if (problems.some(({ code }) => code === "keyTaken")) stock.delete(key);
        await arrive();
      }
      const all = await there(store);
      for (const { stock, kept } of windows) {
        await kept.reload();
        const found = { sequence, state: kept.state, unsaved: unsaved(kept), rows: shown(stock) };
        expect(found).toEqual({ sequence, state: "saved", unsaved: [], rows: all });
        kept.stop();
      }
    }
    console.info(`seed ${random.seed}: ${SEQUENCES} sequences, ${conflicts} conflicts, ${failures} faults`);
    expect(conflicts).toBeGreaterThan(SEQUENCES / 20);
  }, 300_000);

  const COUNTS = times(1_000, 0.15);
  test(`${COUNTS} sequences in which all count up the same rows: no step is lost, and none is counted twice`, async () => {
    const random = seeded(20261130);
    const { below, pick } = random;
    let conflicts = 0;
    for (let sequence = 0; sequence < COUNTS; sequence += 1) {
      const store: Place = memoryStore(plant, { rows: ["A", "B"].map((tag) => row(tag)), place: "nursery" });
      const windows = await threeWindows(store);
      const settle = ({ kept }: Window): void => {
        for (const { key, fields } of kept.conflicts) {
          conflicts += 1;
          const { mine, theirs, base } = fields["count"] as { mine: number; theirs: number; base: number };
          kept.resolve(key, { count: mine + theirs - base });
        }
      };
      const counted: Record<string, number> = { A: 0, B: 0 };
      for (let step = 0; step < 16; step += 1) {
        const window = pick(windows);
        const act = below(8);
        if (act === 0) window.own.failNext(pick(["full", "unreachable", "lostAnswer"] as const));
        if (act < 2) await window.kept.write();
        else if (act === 2) void window.kept.write();
        else if (act === 3) await window.kept.reload();
        // Read again while others write, and while it writes itself.
        else if (act === 7) void window.kept.reload();
        else if (act === 4) settle(window);
        else {
          const tag = pick(["A", "B"]);
          // Two who enter the same agree, so no two amounts are alike.
          const amount = below(1_000_000) + 1;
          counted[tag]! += amount;
          window.stock.update(tag, { count: window.stock.get(tag)!.count! + amount });
        }
        if (below(3) === 0) await arrive();
      }
      for (let round = 0; round < 6; round += 1)
        for (const window of windows) {
          await window.kept.reload();
          settle(window);
          await window.kept.write();
        }
      expect({ sequence, rows: await there(store) }).toEqual({
        sequence,
        rows: [`A|1||${counted["A"]}`, `B|1||${counted["B"]}`],
      });
      for (const { kept } of windows) kept.stop();
    }
    console.info(`seed ${random.seed}: ${COUNTS} sequences, ${conflicts} conflicts`);
    expect(conflicts).toBeGreaterThan(COUNTS / 5);
  }, 300_000);
});

test("a row that comes back by a choice, while another has its key here, comes when that one has another", async () => {
  for (const choice of ["theirs", "mine"] as const) {
    const { store, stock, kept } = await opened([row("A"), row("B"), row("C")]);
    const other = await another(store);
    stock.delete("A");
    stock.update("B", { tag: "A" });
    other.stock.update("A", { notes: "theirs" });
    await other.kept.write();
    await comesTo(kept, "conflict");
    expect(() => kept.resolve("A", { notes: "both" })).toThrow('The row "A" can\'t come back changed');
    kept.resolve("A", choice);
    expect([shown(stock), kept.conflicts]).toEqual([["A|1||0", "C|1||0"], []]);
    if (choice === "mine") expect(await kept.write()).toMatchObject({ ok: true });
    else {
      expect(await kept.write()).toMatchObject({ ok: false, state: "refused" });
      expect(await there(store)).toEqual(["A|1|theirs|0", "B|1||0", "C|1||0"]);
      stock.update("A", { tag: "D" });
      expect(shown(stock)).toEqual(["A|1|theirs|0", "C|1||0", "D|1||0"]);
      expect(await kept.write()).toMatchObject({ ok: true });
    }
    expect(await there(store)).toEqual(shown(stock));
    expect(kept.state).toBe("saved");
    kept.stop();
    other.kept.stop();
  }
});

describe("what the place refuses", () => {
  /** A place that takes no bed over 100, which only it knows. */
  function strict(): Place {
    const store: Place = memoryStore(plant, { rows: [row("A"), row("B")], place: "nursery" });
    const { write } = store;
    store.write = (changes, options) => {
      const refused = changes.flatMap((change, index) =>
        change.kind !== "delete" && change.row.bed! > 100
          ? [
              {
                change: index,
                problems: [
                  {
                    code: "typeMismatch",
                    message: "There is no such bed.",
                    severity: "error",
                    pointer: "/bed",
                  } as const,
                ],
              },
            ]
          : [],
      );
      return refused.length > 0 ? Promise.resolve({ ok: false, refused }) : write(changes, options);
    };
    return store;
  }

  test("is said at the field of an entry that is open over the row, until the field holds something else", async () => {
    const stock = table(plant, [], { locale: "en" });
    const kept = await keep(stock, strict(), {});
    const rows = view(stock);
    const [entry, other] = [editEntry(rows), editEntry(stock, "A")];
    rows.currentKey = "A";
    const { bed } = entry.fields;
    bed.enter("500");
    expect(entry.save()).toBeDefined();
    expect(await kept.write()).toMatchObject({ ok: false, state: "refused" });
    const said = (fields: { readonly bed: { readonly visibleProblems: readonly { readonly message: string }[] } }) =>
      fields.bed.visibleProblems.map(({ message }) => message);
    expect([said(entry.fields), said(other.fields), entry.valid]).toEqual([
      ["There is no such bed."],
      ["There is no such bed."],
      false,
    ]);
    // Another row has no part in it, and coming back it is said again.
    rows.currentKey = "B";
    expect(said(entry.fields)).toEqual([]);
    rows.currentKey = "A";
    expect(said(entry.fields)).toEqual(["There is no such bed."]);
    bed.enter("50");
    expect(said(entry.fields)).toEqual([]);
    expect(entry.valid).toBe(true);
    await entry.save();
    expect(said(other.fields)).toEqual([]);
    expect(await kept.write()).toMatchObject({ ok: true });
    // What was typed meanwhile is not what was refused.
    bed.enter("600");
    await entry.save();
    const writing = kept.write();
    bed.enter("7");
    await writing;
    expect([kept.state, said(entry.fields), said(other.fields)]).toEqual(["refused", [], ["There is no such bed."]]);
    kept.revert();
    expect(said(other.fields)).toEqual([]);
    // Who has typed something else is told what the row is again.
    expect(said(entry.fields)).toEqual(["Changed elsewhere too. There: 50. Here: 7."]);
    kept.stop();
  });
});
