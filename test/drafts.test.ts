/** What is typed and not saved: kept while typing, offered again, and gone when it is saved. */
import { spawnSync } from "node:child_process";
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, afterEach, describe, expect, test } from "@jest/globals";
import { fileDrafts } from "../src/files/index.ts";
import {
  boolean,
  date,
  decimal,
  editEntry,
  type Entry,
  integer,
  list,
  model,
  newEntry,
  number,
  oneOf,
  rows,
  rowsOf,
  table,
  text,
  view,
} from "../src/index.ts";
import {
  type Draft,
  type Drafts,
  keep,
  keepDraft,
  type MemoryDrafts,
  memoryDrafts,
  type MemoryStore,
  memoryStore,
  writeCommand,
} from "../src/store/index.ts";
import { type Seeded, seeded, times } from "./seeded.ts";

const folder = mkdtempSync(join(tmpdir(), "ironwood-drafts-"));
afterAll(() => rmSync(folder, { recursive: true }));
let open: Draft[] = [];
afterEach(() => {
  for (const each of open) each.stop();
  open = [];
});

const note = model(
  {
    tag: text(),
    subject: text(),
    girth: number({ unit: "cm" }),
    price: decimal(),
    on: date(),
    done: boolean(),
    kind: oneOf(["tree", "hedge"]),
    marks: list(text()),
    plants: rows(model({ species: text(), count: integer(), pin: text({ writeOnly: true }) }, { title: "Plant" })),
    secret: text({ writeOnly: true }),
    double: number(),
  },
  { title: "Note", key: "tag" },
).calculated({ double: (row) => (row.girth ?? 0) * 2 });
type Note = typeof note;

function keepIn(entry: Entry<never> | Entry<Note>, drafts: Drafts, name = "note"): Draft {
  const draft = keepDraft(entry as never, drafts, { name });
  open.push(draft);
  return draft;
}

/** As if every window that there was had been closed. */
function crash(drafts: MemoryDrafts): void {
  for (const each of open.splice(0)) each.stop();
  drafts.letGo();
}

/** What a person has typed, changed and sees. */
const seen = (entry: Entry<Note>): unknown =>
  (["subject", "girth", "price", "on", "kind"] as const)
    .map((name): unknown => [name, entry.fields[name].text, entry.values[name]])
    .concat([[entry.values.done, entry.values.marks, linesOf(entry)]]);

/** The rows inside, with what is typed in each of them. */
function linesOf(entry: Entry<Note>): unknown {
  const lines = rowsOf(entry, "plants");
  return [...lines].map((line) => [line.species, line.count, typedIn(editEntry(lines, lines.keyOf(line)))]);
}
const typedIn = ({ fields }: { fields: Record<"species" | "count", { text: string }> }): string =>
  `${fields.species.text}|${fields.count.text}`;

async function offered(
  drafts: Drafts,
  entry: Entry<Note> = newEntry(note),
): Promise<{ draft: Draft; entry: Entry<Note> }> {
  const draft = keepIn(entry, drafts);
  await draft.ready;
  return { draft, entry };
}

describe("a draft", () => {
  test("keeps texts and values as they were typed, also what can't be read; never a secret", async () => {
    const drafts = memoryDrafts();
    const first = newEntry(note, { locale: "de" });
    const { draft } = await offered(drafts, first);
    expect([draft.offered, draft.said]).toEqual([undefined, ""]);
    first.fields.subject.enter(" A long note ");
    first.fields.girth.enter("12,");
    first.fields.price.enter("viel");
    first.fields.secret.enter("pass word");
    first.values.marks = ["a", "b"];
    first.values.plants = [{ species: "Acer", count: 3, pin: "" }];
    first.values.done = true;
    await draft.write();
    const stored = (await drafts.list("note")).length;
    crash(drafts);
    const kept = (await drafts.list("note")).map((each) => each.text).join();
    expect([stored, kept.includes("pass word")]).toEqual([0, false]);
    const again = await offered(drafts, newEntry(note, { locale: "de" }));
    expect(again.draft.offered).toMatchObject({
      model: "Note",
      titles: ["Subject", "Girth", "Price", "Done", "Marks", "Plants"],
    });
    expect(again.draft.said).toMatch(/^Was here|^Was hier am|^What was entered here on .* was not saved/);
    expect(again.draft.take()).toEqual([]);
    expect(seen(again.entry)).toEqual(seen(first));
    expect([again.entry.fields.secret.text, again.entry.fields.price.problems[0]?.code]).toEqual(["", "badInput"]);
    // All of it is one step.
    again.entry.undo();
    expect(again.entry.changed).toBe(false);
    again.entry.redo();
    expect(seen(again.entry)).toEqual(seen(first));
  });

  test("is written 300 milliseconds after typing at the latest, once for many keys", async () => {
    const drafts = memoryDrafts();
    let writes = 0;
    const { write } = drafts;
    drafts.write = (...given) => (writes++, write(...given));
    const { entry } = await offered(drafts);
    const begin = Date.now();
    for (let key = 0; key < 20; key++) {
      entry.fields.subject.enter("x".repeat(key + 1));
      await new Promise((go) => setTimeout(go, 5));
    }
    while (writes === 0) await new Promise((go) => setTimeout(go, 5));
    expect(Date.now() - begin).toBeLessThan(600);
    await new Promise((go) => setTimeout(go, 350));
    expect(writes).toBeLessThanOrEqual(3);
    crash(drafts);
    const again = await offered(drafts);
    again.draft.take();
    expect(again.entry.values.subject).toBe("x".repeat(20));
  });

  test("has what is typed in rows inside: it is there when they are edited again, as one step; a secret never", async () => {
    const drafts = memoryDrafts();
    const plants = [
      { species: "Fagus sylvatica", count: 2, pin: "4711" },
      { species: "Tilia cordata", count: 3, pin: "4712" },
    ];
    const begun = (inside: typeof plants): Entry<Note> =>
      editEntry(note, { ...newEntry(note).values, tag: "N-1", plants: inside }, { save: () => undefined });
    const first = await offered(drafts, begun(plants));
    const lines = rowsOf(first.entry, "plants");
    const [fagus, tilia] = [...lines];
    editEntry(lines, lines.keyOf(tilia!)).fields.count.enter("many");
    lines.update(lines.keyOf(fagus!), { species: "Fagus" });
    await first.draft.write();
    crash(drafts);
    const [stored] = await drafts.list("note");
    expect(stored!.text).not.toContain("471");
    const again = await offered(drafts, begun(plants));
    expect([again.draft.offered?.titles, again.draft.take()]).toEqual([["Plants"], []]);
    const there = rowsOf(again.entry, "plants");
    const [one, two] = [...there].map((row) => editEntry(there, there.keyOf(row)));
    expect([typedIn(one!), typedIn(two!), [...there].map(({ pin }) => pin)]).toEqual([
      "Fagus|2",
      "Tilia cordata|many",
      ["4711", "4712"],
    ]);
    // It counts when the entry is saved, until it is right.
    expect(again.entry.changed).toBe(true);
    expect(await again.entry.save()).toMatchObject({ ok: false, problems: [{ pointer: "/plants/1/count" }] });
    two!.fields.count.enter("4");
    expect(await again.entry.save()).toMatchObject({ ok: true });
    expect(again.entry.values.plants).toMatchObject([{ species: "Fagus" }, { count: 4, pin: "4712" }]);
    // Where the rows are others by now, what was typed in one of them is told.
    await again.draft.write();
    crash(drafts);
    const third = await offered(drafts, begun(plants));
    const [line] = [...rowsOf(third.entry, "plants")];
    editEntry(rowsOf(third.entry, "plants"), rowsOf(third.entry, "plants").keyOf(line!)).fields.count.enter("many");
    await third.draft.write();
    crash(drafts);
    const other = await offered(drafts, begun([]));
    expect(other.draft.take().map(({ message }) => message)).toEqual([
      "Not taken: “many” for Count, since its row was changed meanwhile.",
    ]);
  });

  test("is gone when the entry is saved, reverted or typed back, and begins anew with the next row", async () => {
    const drafts = memoryDrafts();
    const entry = newEntry(note, { save: () => undefined, afterSave: "startNew" });
    const { draft } = await offered(drafts, entry);
    const count = async (): Promise<number> => {
      await draft.write();
      drafts.letGo();
      return (await drafts.list("note")).length;
    };
    entry.fields.subject.enter("x");
    expect(await count()).toBe(1);
    entry.fields.subject.enter("");
    expect(await count()).toBe(0);
    entry.fields.subject.enter("y");
    expect(await count()).toBe(1);
    entry.revert();
    expect(await count()).toBe(0);
    entry.values.tag = "T";
    expect(await count()).toBe(1);
    expect((await entry.save()).ok).toBe(true);
    expect(await count()).toBe(0);
    entry.fields.subject.enter("next");
    expect(await count()).toBe(1);
  });

  test("that is dropped is gone; while one is offered, what is typed has a draft of its own", async () => {
    const drafts = memoryDrafts();
    const first = await offered(drafts);
    first.entry.fields.subject.enter("old");
    await first.draft.write();
    crash(drafts);
    const second = await offered(drafts);
    second.entry.fields.subject.enter("new");
    await second.draft.write();
    crash(drafts);
    // The newest is offered first, and after it the other.
    const third = await offered(drafts);
    await third.draft.drop();
    expect(third.draft.offered).toBeDefined();
    third.draft.take();
    expect([third.entry.values.subject, third.draft.offered]).toEqual(["old", undefined]);
    await third.draft.write();
    crash(drafts);
    const fourth = await offered(drafts);
    await fourth.draft.drop();
    expect(fourth.draft.offered).toBeUndefined();
    expect(() => fourth.draft.take()).toThrow(/no draft is offered/);
    await expect(fourth.draft.drop()).rejects.toThrow(/no draft is offered/);
    expect(await drafts.list("note")).toEqual([]);
  });

  test("of a window that is open is not offered to another, nor under another name", async () => {
    const drafts = memoryDrafts();
    const first = await offered(drafts);
    first.entry.fields.subject.enter("x");
    await first.draft.write();
    expect((await offered(drafts)).draft.offered).toBeUndefined();
    crash(drafts);
    const other = keepIn(newEntry(note), drafts, "another");
    expect(await other.ready).toBe(false);
    expect((await offered(drafts)).draft.offered).toBeDefined();
  });

  test("taken is there until its content is in the next: a crash in between loses nothing", async () => {
    const drafts = memoryDrafts();
    const first = await offered(drafts);
    first.entry.fields.subject.enter("x");
    await first.draft.write();
    crash(drafts);
    const second = await offered(drafts);
    drafts.failWith("The disk is full.");
    second.draft.take();
    await second.draft.write();
    expect(second.draft.failure).toBe("The disk is full.");
    drafts.failWith(undefined);
    crash(drafts);
    expect((await offered(drafts)).draft.offered).toBeDefined();
  });

  test("that can't be kept says so, and the entry works on", async () => {
    const drafts = memoryDrafts();
    drafts.failWith("Nothing may be kept here.");
    const { draft, entry } = await offered(drafts);
    entry.fields.subject.enter("x");
    await draft.write();
    expect([draft.failure, draft.said]).toEqual([
      "Nothing may be kept here.",
      "What you type is lost if this window closes before you save: Nothing may be kept here.",
    ]);
    drafts.failWith(undefined);
    entry.fields.subject.enter("xy");
    await draft.write();
    expect(draft.said).toBe("");
  });

  test("of a row that was changed elsewhere since is in conflict where both changed it", async () => {
    const drafts = memoryDrafts();
    const plant = model({ tag: text(), subject: text(), bed: integer() }, { key: "tag", title: "Plant" });
    const stock = table(plant, [{ tag: "A", subject: "old", bed: 1 }]);
    const first = editEntry(stock, "A");
    const keeping = keepIn(first as never, drafts);
    first.fields.subject.enter("mine");
    first.fields.bed.enter("2");
    await keeping.write();
    crash(drafts);
    first.stop();
    stock.update("A", { subject: "theirs" });
    const again = editEntry(stock, "A");
    const offer = keepIn(again as never, drafts);
    await offer.ready;
    offer.take();
    expect(again.fields.subject.conflict).toEqual({ base: "old", mine: "mine", theirs: "theirs" });
    expect([again.fields.bed.conflict, again.values.bed]).toEqual([undefined, 2]);
  });

  test("of an older model opens as far as it fits, and says what did not", async () => {
    const drafts = memoryDrafts();
    const older = model({ tag: text(), heading: text(), girth: text(), done: text(), on: text() });
    const entry = newEntry(older);
    const draft = keepIn(entry as never, drafts);
    entry.fields.tag.enter("T");
    entry.fields.heading.enter("My heading");
    entry.fields.girth.enter("thick");
    entry.values.done = "yes";
    entry.values.on = "2026-11-28";
    await draft.write();
    crash(drafts);
    const again = await offered(drafts);
    expect(again.draft.take()).toEqual([
      { name: "heading", message: "Not taken: “My heading”, since there is no field Heading any more." },
      { name: "done", message: "Not taken: “yes”, which Done can’t hold any more." },
    ]);
    expect([again.entry.values.tag, again.entry.values.on]).toEqual(["T", "2026-11-28"]);
    expect([again.entry.fields.girth.text, again.entry.fields.girth.problems[0]?.code]).toEqual(["thick", "badInput"]);
  });

  test("typed in one language is read in another", async () => {
    const drafts = memoryDrafts();
    const first = await offered(drafts, newEntry(note, { locale: "de" }));
    first.entry.fields.girth.enter("1.234,5");
    await first.draft.write();
    crash(drafts);
    const again = await offered(drafts, newEntry(note, { locale: "en" }));
    again.draft.take();
    expect([again.entry.values.girth, again.entry.fields.girth.text]).toEqual([1234.5, "1234.5"]);
  });

  test("property: whatever is done with an entry, its draft gives back what there was", async () => {
    const random = seeded(2802);
    const count = times(1_000);
    for (let round = 0; round < count; round++) {
      const drafts = memoryDrafts();
      const first = await offered(drafts);
      for (let step = 1 + random.below(8); step > 0; step--) act(random, first.entry);
      await first.draft.write();
      crash(drafts);
      const again = await offered(drafts);
      const isThere = again.draft.offered !== undefined;
      expect(isThere).toBe(first.entry.changed);
      if (isThere) again.draft.take();
      expect([round, seen(again.entry)]).toEqual([round, seen(first.entry)]);
    }
    console.info(`${count} drafts, seed ${random.seed}`);
  });

  test("property: random bytes and changed drafts are no draft, or open as far as they fit", async () => {
    const random = seeded(2803);
    const source = memoryDrafts();
    const first = await offered(source);
    for (let step = 0; step < 30; step++) act(random, first.entry);
    first.entry.fields.subject.enter("x");
    await first.draft.write();
    crash(source);
    const [stored] = await source.list("note");
    const count = times(1_000);
    let taken = 0;
    for (let round = 0; round < count; round++) {
      const letters = [...stored!.text];
      for (let many = 1 + random.below(6); many > 0; many--)
        letters.splice(
          random.below(letters.length),
          random.below(3),
          random.pick(['"', "0", "{", "null", "[]", "x", ":"]),
        );
      const drafts = memoryDrafts();
      await drafts.write("note", { id: "x", text: random.below(20) === 0 ? "\u0000" : letters.join("") });
      const { draft } = await offered(drafts);
      if (draft.offered === undefined) continue;
      expect(draft.said).not.toContain("undefined");
      for (const { message } of draft.take()) expect(message).toMatch(/^Not taken: /);
      taken++;
      draft.stop();
    }
    console.info(`${count} changed drafts, ${taken} taken, seed ${random.seed}`);
    expect(taken).toBeGreaterThan(count / 50);
  });

  test("refuses what is no entry, no place and no name", () => {
    const entry = newEntry(note);
    expect(() => keepDraft({} as never, memoryDrafts(), { name: "x" })).toThrow(/keepDraft/);
    expect(() => keepDraft(entry, {} as never, { name: "x" })).toThrow(/browserDrafts/);
    expect(() => keepDraft(entry, memoryDrafts(), {} as never)).toThrow(/no name/);
    expect(() => keepDraft(entry, memoryDrafts(), { nmae: "x" } as never)).toThrow(/"nmae".*"name"/s);
    expect(() => memoryDrafts({ plce: "x" } as never)).toThrow(/plce/);
  });
});

/** Something that a person does. */
function act(random: Seeded, entry: Entry<Note>): void {
  const name = random.pick([
    "subject",
    "girth",
    "price",
    "on",
    "kind",
    "done",
    "marks",
    "plants",
    "line",
    "line",
    "undo",
    "redo",
    "revert",
  ] as const);
  if (name === "undo" || name === "redo") entry[name]();
  else if (name === "revert") {
    if (random.below(4) === 0) entry.revert();
  } else if (name === "done") entry.values.done = random.below(2) === 0;
  else if (name === "marks") entry.values.marks = random.pick([[], ["a"], ["a", "", "b"]]);
  else if (name === "plants") entry.values.plants = random.pick([[], [{ species: "A", count: undefined, pin: "" }]]);
  else if (name === "line") actInside(random, entry);
  else if (name === "kind") entry.values.kind = random.pick([undefined, "tree", "hedge"]);
  else entry.fields[name].enter(random.pick(["", "1", "12.", "1,5", "x", "2026-11-28", "28/11", " y ", "-"]));
}

function actInside(random: Seeded, entry: Entry<Note>): void {
  const lines = rowsOf(entry, "plants");
  const all = [...lines];
  if (all.length === 0 || random.below(4) === 0) return void lines.insert({ species: random.pick(["", "Fagus"]) });
  const key = lines.keyOf(random.pick(all));
  if (random.below(8) === 0) return void lines.delete(key);
  const line = editEntry(lines, key);
  if (random.below(6) === 0) void line.commit();
  else line.fields[random.pick(["species", "count"] as const)].enter(random.pick(["", "3", "many", "Quercus"]));
}

describe("drafts in a folder", () => {
  test("are those of programs that have ended; another program's are its own while it runs", async () => {
    const at = join(folder, "drafts");
    const first = await offered(fileDrafts(at));
    first.entry.fields.subject.enter("x");
    await first.draft.write();
    expect((await offered(fileDrafts(at))).draft.offered).toBeDefined();
    const [file] = readdirSync(at);
    const stored = JSON.parse(readFileSync(join(at, file!), "utf8")) as object;
    // As of a program that has ended, and of one that runs.
    const { pid } = spawnSync(process.execPath, ["-e", ""]);
    writeFileSync(join(at, "gone.draft.json"), JSON.stringify({ ...stored, id: "gone", process: pid }));
    writeFileSync(join(at, "alive.draft.json"), JSON.stringify({ ...stored, id: "alive", process: process.ppid }));
    writeFileSync(join(at, "torn.draft.json"), '{"name":"no');
    const drafts = fileDrafts(at);
    await drafts.hold("note", first.draft.offered === undefined ? file!.replace(".draft.json", "") : "", {
      signal: new AbortController().signal,
    });
    expect((await drafts.list("note")).map(({ id }) => id)).toEqual(["gone"]);
    await drafts.remove("note", "gone");
    await drafts.remove("note", "gone");
    expect(await drafts.list("note")).toEqual([]);
  });

  test("a folder that can't be written says so", async () => {
    const at = join(folder, "file");
    writeFileSync(at, "");
    const { draft, entry } = await offered(fileDrafts(join(at, "drafts")));
    entry.fields.subject.enter("x");
    await draft.write();
    expect(draft.said).toMatch(
      /^What you type is lost if this window closes .* can't be (written|read): a part of its path/,
    );
  });
});

describe("unsaved rows", () => {
  const plant = model(
    { tag: text(), bed: integer(), notes: text(), pin: text({ writeOnly: true }) },
    { key: "tag", title: "Plant" },
  );
  type Plant = { tag: string; bed: number | undefined; notes: string; pin: string };
  const row = (tag: string, bed: number, notes = ""): Plant => ({ tag, bed, notes, pin: `pin of ${tag}` });

  async function opened(place: MemoryStore<Plant, string>, drafts: Drafts) {
    const stock = table(plant, []);
    const kept = await keep(stock, place.again() as never, { drafts });
    open.push({ stop: () => kept.stop() } as never);
    await kept.draft!.ready;
    const typed = (tag: string): string => {
      const { fields } = editEntry(stock, tag);
      return `${fields.bed.text}|${fields.notes.text}`;
    };
    const seen = (): string[] => [...stock].map(({ tag, bed, notes }) => `${tag}|${bed}|${notes}`).sort();
    return { stock, kept, draft: kept.draft!, seen, typed };
  }

  test("come back after a crash with what they were made of: merged with what others did, and asked about", async () => {
    const place = memoryStore(plant, { rows: ["A", "B", "C", "D", "E"].map((tag) => row(tag, 1)), place: "nursery" });
    const drafts = memoryDrafts();
    const first = await opened(place, drafts);
    first.stock.update("A", { bed: 2 });
    first.stock.update("B", { bed: 2 });
    first.stock.delete("C");
    first.stock.update("D", { notes: "mine" });
    first.stock.insert(row("N", 9));
    await first.draft.write();
    const left = first.seen();
    crash(drafts);
    expect((await drafts.list("rows of nursery: Plant"))[0]!.text).not.toContain("pin of");
    // Meanwhile others have changed a field that was not changed here, one that was, and have deleted a row.
    const others = await opened(place, memoryDrafts());
    others.stock.update("A", { notes: "theirs" });
    others.stock.update("B", { bed: 3 });
    others.stock.delete("D");
    others.stock.update("E", { bed: 5 });
    expect((await others.kept.write()).ok).toBe(true);
    const again = await opened(place, drafts);
    expect([again.draft.offered?.titles, again.kept.state]).toEqual([["C", "A", "B", "D", "N"], "saved"]);
    expect(again.draft.take()).toEqual([]);
    expect(again.seen()).toEqual(
      left.map((each) => (each.startsWith("A|") ? "A|2|theirs" : each.startsWith("E|") ? "E|5|" : each)),
    );
    expect(again.kept.conflicts.map(({ key, theirs }) => [key, theirs?.bed])).toEqual([
      ["B", 3],
      ["D", undefined],
    ]);
    expect(again.stock.get("A")?.pin).toBe("pin of A");
    again.kept.resolve("B", "mine");
    again.kept.resolve("D", "theirs");
    expect((await again.kept.write()).ok).toBe(true);
    await again.draft.write();
    crash(drafts);
    expect(await drafts.list("rows of nursery: Plant")).toEqual([]);
    expect((await opened(place as never, drafts)).seen()).toEqual(["A|2|theirs", "B|2|", "E|5|", "N|9|"]);
  });

  test("have what is typed in rows that are edited, also in those that are as at their place: for a grid, and for a form", async () => {
    const place = memoryStore(plant, { rows: ["A", "B", "C"].map((tag) => row(tag, 1)), place: "nursery" });
    const drafts = memoryDrafts();
    const first = await opened(place, drafts);
    editEntry(first.stock, "A").fields.bed.enter("many");
    editEntry(first.stock, "B").fields.notes.enter("mine");
    expect(first.kept.said).toBe("2 rows being edited and not saved yet. Everything else is saved in nursery.");
    const saving = writeCommand(first.kept as never);
    expect([first.kept.state, saving.allowed]).toEqual(["saved", false]);
    expect(saving.reason).toBe(first.kept.said);
    first.stock.insert(row("N", 9));
    editEntry(first.stock, "N").fields.notes.enter("new");
    await first.draft.write();
    crash(drafts);
    const others = await opened(place, memoryDrafts());
    others.stock.update("A", { notes: "theirs" });
    others.stock.update("B", { notes: "theirs" });
    expect((await others.kept.write()).ok).toBe(true);
    const again = await opened(place, drafts);
    expect(again.draft.offered?.titles).toEqual(["N", "A", "B"]);
    expect(again.draft.take()).toEqual([]);
    expect([again.seen(), again.kept.unsavedCount]).toEqual([["A|1|theirs", "B|1|theirs", "C|1|", "N|9|"], 1]);
    expect([again.kept.editingCount, again.kept.said]).toEqual([3, "1 row not saved yet."]);
    expect(["A", "B", "N"].map(again.typed)).toEqual(["many|theirs", "1|mine", "9|new"]);
    expect(editEntry(again.stock, "B").fields.notes.conflict).toMatchObject({ theirs: "theirs" });
    // A form that comes to the row has it, and the row has one entry.
    const shown = view(again.stock, { orderBy: "tag" });
    const form = editEntry(shown);
    shown.currentKey = "A";
    expect([form.key, form.fields.bed.text]).toEqual(["A", "many"]);
    expect(editEntry(again.stock, "A")).toBe(form);
    form.fields.bed.enter("4");
    shown.currentKey = "N";
    expect([again.stock.get("A")?.bed, form.fields.notes.text]).toEqual([4, "new"]);
    form.stop();
  });

  test("property: after a crash the same rows are unsaved, whatever was changed and written before", async () => {
    const random = seeded(2804);
    const count = times(400);
    for (let round = 0; round < count; round++) {
      const place = memoryStore(plant, { rows: ["A", "B", "C"].map((tag) => row(tag, 1)), place: "nursery" });
      const drafts = memoryDrafts();
      const first = await opened(place, drafts);
      for (let step = random.below(8); step > 0; step--) {
        const tag = random.pick(["A", "B", "C", "D", "E"]);
        const what = random.below(5);
        if (what === 0 && first.stock.has(tag)) first.stock.delete(tag);
        else if (first.stock.has(tag) && random.below(3) === 0)
          editEntry(first.stock, tag).fields[random.pick(["bed", "notes"] as const)].enter(random.pick(["7", "x", ""]));
        else if (what === 1) await first.kept.write();
        else if (first.stock.has(tag)) first.stock.update(tag, { bed: random.below(3) });
        else first.stock.insert(row(tag, random.below(3)));
      }
      await first.draft.write();
      const standing = ({ seen, kept, stock, typed }: typeof first): unknown => [
        seen(),
        kept.unsaved.map(({ kind, key }) => `${kind} ${key}`).sort(),
        [...stock].map(({ tag }) => `${tag} ${typed(tag)}`).sort(),
      ];
      const right = standing(first);
      crash(drafts);
      const again = await opened(place, drafts);
      if (again.draft.offered !== undefined) expect(again.draft.take()).toEqual([]);
      expect([round, standing(again)]).toEqual([round, right]);
      for (const each of open.splice(0)) each.stop();
    }
    console.info(`${count} tables, seed ${random.seed}`);
  });

  test("that were saved all the same, by a window that heard no answer, are not offered", async () => {
    const place = memoryStore(plant, { rows: [row("A", 1), row("B", 1)], place: "nursery" });
    const drafts = memoryDrafts();
    const first = await opened(place, drafts);
    first.stock.update("A", { bed: 2 });
    first.stock.delete("B");
    first.stock.insert(row("C", 3));
    await first.draft.write();
    crash(drafts);
    const other = await opened(place, memoryDrafts());
    other.stock.update("A", { bed: 2 });
    other.stock.delete("B");
    other.stock.insert(row("C", 3));
    await other.kept.write();
    expect((await opened(place, drafts)).draft.offered).toBeUndefined();
    drafts.letGo();
    expect(await drafts.list("rows of nursery: Plant")).toEqual([]);
  });

  test("of a row that was changed here since are not taken, and that is told", async () => {
    const place = memoryStore(plant, { rows: [row("A", 1)], place: "nursery" });
    const drafts = memoryDrafts();
    const first = await opened(place, drafts);
    first.stock.update("A", { bed: 2 });
    first.stock.insert(row("B", 2));
    await first.draft.write();
    crash(drafts);
    const again = await opened(place, drafts);
    again.stock.update("A", { bed: 7 });
    again.stock.insert(row("B", 7));
    expect(again.draft.take().map(({ message }) => message)).toEqual([
      "Not taken: A: it was changed here meanwhile.",
      expect.stringMatching(/^Not taken: B: /),
    ]);
    expect(again.seen()).toEqual(["A|7|", "B|7|"]);
    // What is typed here since stays, too.
    editEntry(again.stock, "A").fields.notes.enter("old");
    await again.draft.write();
    crash(drafts);
    const third = await opened(place, drafts);
    editEntry(third.stock, "A").fields.notes.enter("new");
    expect(third.draft.take().map(({ message }) => message)).toContain(
      "Not taken: “old” for Notes, since its row was changed meanwhile.",
    );
    expect([third.typed("A"), third.kept.editingCount]).toEqual(["7|new", 1]);
    third.kept.stop();
    expect(third.kept.editingCount).toBe(0);
    for (const drafts of [{}, null, "x"])
      await expect(keep(table(plant, []), place as never, { drafts: drafts as never })).rejects.toThrow(
        /browserDrafts/,
      );
  });
});
