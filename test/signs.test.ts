/** Places where one sign, one word or one call less would make a difference that examples of whole features seldom show. */
import { describe, expect, test } from "@jest/globals";
import {
  date,
  Decimal,
  decimal,
  editEntry,
  follow,
  integer,
  model,
  newEntry,
  newHistory,
  notices,
  number,
  oneOf,
  rows,
  rowsOf,
  steps,
  table,
  text,
  transaction,
  view,
} from "../src/index.ts";
import { because, Calculation, internal, Value, watchPasses } from "../src/engine/index.ts";
import { readPeriod } from "../src/model/index.ts";
import type { EntryState, FieldState } from "../src/entry/index.ts";
import { gridAct, type GridState, TallScroll } from "../src/control/index.ts";
import { moveRows, pasteBlock, RowCopyState } from "../src/rows/index.ts";
import { CsvLines } from "../src/store/text/csvLines.ts";
import { keep, keepDraft, loadRows, memoryDrafts, memoryStore, StoreError } from "../src/store/index.ts";
import { seeded, times } from "./seeded.ts";

const row_ = (tag: string) => ({ tag, bed: 1, height: undefined });
const plant = model({ tag: text(), bed: integer(), height: number() }, { key: "tag", title: "Plant" });

test.each([
  ["5/2026", "month", "2026-05"],
  ["2026 11", "month", "2026-11"],
  ["2026-W05", "month", undefined],
  ["7 2026", "week", "2026-W07"],
  ["2026-w49", "week", "2026-W49"],
] as const)("%s is read as a %s: %s", (typed, format, expected) => {
  expect(readPeriod(typed, format)).toBe(expected);
});

test("the cause of a write that one follower had alone is not that of the next", () => {
  const [alone, shared] = [new Value(0), new Value(0)];
  const seen: string[] = [];
  const all = [alone, shared, shared].map((value) =>
    follow(
      () => value.read(),
      () => undefined,
    ),
  );
  const end = watchPasses({ wrote: () => undefined, runs: (_, { cause }) => seen.push(cause) });
  because({ cause: "typed" }, () => alone.write(1));
  shared.write(1);
  end();
  for (const each of all) each.stop();
  expect(seen).toEqual(["typed", "code", "code"]);
});

test.each([
  [[1e16, 0.5, 2 ** -60, -(2 ** 53)], 992_800_745_259_008.5],
  [[-0.1, 1, 2 ** 53], 2 ** 53],
])("the total of %j is exact, and rounded once", (heights, expected) => {
  const rowsOfPlants = heights.map((height, at) => ({ tag: `${at}`, bed: 1, height }));
  expect(view(table(plant, rowsOfPlants)).total("height")).toBe(expected);
});

test("a last cell in quotes needs no line end, whichever way the text comes", async () => {
  const csv = 'tag,bed,height\n"A",1,2.5\n"B","2","3"';
  for (const pieces of [[csv], [...csv], [csv.slice(0, -1), '"']]) {
    const stock = table(plant, []);
    const { problems } = await loadRows(stock, pieces.map((piece) => Buffer.from(piece)) as never, { format: "csv" });
    expect([problems, [...stock].map(({ tag, height }) => `${tag} ${height}`)]).toEqual([[], ["A 2.5", "B 3"]]);
  }
});

test("a draft that was stopped is written no more", async () => {
  const drafts = memoryDrafts();
  const entry = newEntry(plant);
  const draft = keepDraft(entry, drafts, { name: "plant" });
  await draft.ready;
  entry.fields.tag.enter("A");
  await draft.write();
  draft.stop();
  drafts.letGo();
  entry.fields.tag.enter("B");
  await new Promise((go) => setTimeout(go, 400));
  expect((await drafts.list("plant")).map((each) => each.text)).toEqual([expect.stringContaining('"A"')]);
});

test("a block in which a key stands twice is refused as a whole", () => {
  const stock = table(
    plant,
    ["A", "B"].map((tag) => ({ tag, bed: 1, height: undefined })),
    { locale: "en" },
  );
  const pasted = pasteBlock(view(stock), [["X"], ["X"]], { row: 0, columns: ["tag"] });
  expect(pasted).toMatchObject({ ok: false, problems: [{ code: "keyTaken" }] });
  expect([...stock].map(({ tag }) => tag)).toEqual(["A", "B"]);
});

test("what can't be pasted is told with its row, counted from 1", () => {
  const stock = table(
    plant,
    ["A", "B"].map((tag) => ({ tag, bed: 1, height: undefined })),
    { locale: "en" },
  );
  const pasted = pasteBlock(view(stock), [["2"], ["3", "x"], ["4"]], { row: 0, columns: ["bed"] });
  expect(pasted.ok ? [] : pasted.problems.map(({ row, name }) => `${row} ${name}`)).toEqual(["2 ", "3 "]);
});

test("a row that only touches the edge of a window is not seen", () => {
  const tall = new TallScroll();
  tall.measure(10, 20, 100);
  tall.scrolled(20);
  expect([0, 1, 5, 6].map((row) => tall.sees(row))).toEqual([false, true, true, false]);
  expect(tall.page).toBe(4);
});

test("a copy of a row that is edited in a dialog has what the row has, and no proposal", () => {
  const proposing = model({ tag: text(), bed: integer() }, { key: "tag" }).proposed({ bed: () => 7 });
  const stock = table(proposing, [{ tag: "A", bed: undefined }]);
  const copy = new RowCopyState(stock[internal], stock[internal].slotFor("A")!);
  expect([copy.core.field("bed").value, copy.changed]).toEqual([undefined, false]);
  copy.stop();
});

test("a number has as many digits as its style has, unless it has none", () => {
  const share = model({ part: number({ display: { style: "percent" } }), whole: number() });
  const entry = newEntry(share, { locale: "en", values: { part: 1 / 3, whole: 1 / 3 } });
  expect([entry.fields.part.display, entry.fields.whole.display]).toEqual(["33%", "0.333333"]);
});

test("a field of an entry that may become read-only as a whole depends on that", () => {
  const isPlain = (entry: { readonly [internal]: unknown }): boolean =>
    (entry[internal] as EntryState).core.conditions.isPlain("bed");
  const required = model({ bed: integer() }).required({ bed: () => true });
  expect([newEntry(plant), newEntry(plant, { readOnly: () => false }), newEntry(required)].map(isPlain)).toEqual([
    true,
    false,
    false,
  ]);
});

test("who types just what is proposed has entered it", () => {
  const proposing = model({ plants: integer(), pots: integer() }).proposed({ pots: ({ plants }) => plants });
  const entry = newEntry(proposing);
  entry.values.plants = 7;
  entry.fields.pots.enter("7");
  entry.values.plants = 8;
  expect(entry.values.pots).toBe(7);
  // Also where nothing is proposed yet.
  const blank = newEntry(proposing);
  blank.fields.pots.enter("");
  blank.values.plants = 8;
  expect(blank.values.pots).toBeUndefined();
});

test("an entry that was stopped follows its row no more", () => {
  const stock = table(plant, [{ tag: "A", bed: 1, height: undefined }]);
  const entry = editEntry(stock, "A");
  entry.stop();
  stock.update("A", { bed: 2 });
  expect(entry.values.bed).toBe(1);
});

test("a secret that somebody has put into a draft is not taken", async () => {
  const drafts = memoryDrafts();
  const secret = model({ name: text(), pin: text({ writeOnly: true }) });
  const pin = { title: "Pin", text: "4711", value: "4711" };
  const now = "2026-11-29T08:00:00Z";
  const content = { name: { title: "Name", value: "KM" }, pin };
  await drafts.write("x", { id: "a", text: JSON.stringify({ begun: now, changed: now, locale: "en", content }) });
  const entry = newEntry(secret, { locale: "en" });
  const draft = keepDraft(entry, drafts, { name: "x" });
  await draft.ready;
  draft.take();
  draft.stop();
  expect([entry.values.name, entry.values.pin]).toEqual(["KM", ""]);
});

test("what a place had no room for is written as it is by then, and once", async () => {
  const place = memoryStore(plant, { rows: [{ tag: "A", bed: 1, height: undefined }] });
  const write = place.write.bind(place);
  const asked: (number | undefined)[] = [];
  let isFull = true;
  place.write = (changes, options) => {
    for (const change of changes) if (change.kind === "update") asked.push(change.row.bed);
    return isFull ? Promise.reject(new StoreError("full", "There is no room.")) : write(changes, options);
  };
  const stock = table(plant, []);
  const kept = await keep(stock, place);
  stock.update("A", { bed: 2 });
  expect(await kept.write()).toMatchObject({ ok: false, state: "refused" });
  stock.update("A", { bed: 3 });
  isFull = false;
  expect(await kept.write()).toMatchObject({ ok: true });
  kept.stop();
  expect(asked).toEqual([2, 3]);
});

test("a row with an open quote is not where the text ends if whole rows come after it", () => {
  const ends = ['a,b\n1,"open\n2,3\n4,5\n', 'a,b\n1,"open\n'].map((csv) => {
    const lines = new CsvLines();
    lines.take(csv);
    lines.end();
    return lines.torn !== undefined;
  });
  expect(ends).toEqual([false, true]);
});

test("a new row of a model without a key is in a draft until it is saved", async () => {
  const visit = model({ notes: text() }, { title: "Visit" });
  const [place, drafts] = [memoryStore(visit, { place: "diary" }), memoryDrafts()];
  const begun = async () => {
    const visits = table(visit, []);
    const kept = await keep(visits, place.again(), { drafts });
    await kept.draft!.ready;
    return { visits, kept };
  };
  const first = await begun();
  first.visits.insert({ notes: "Gate was open." });
  await first.kept.draft!.write();
  first.kept.stop();
  drafts.letGo();
  const again = await begun();
  expect(again.kept.draft!.offered?.titles).toEqual(["Visit"]);
  expect([again.kept.draft!.take(), [...again.visits].map(({ notes }) => notes)]).toEqual([[], ["Gate was open."]]);
  again.kept.stop();
});

test("a form in steps begins with the first when a new row is begun", async () => {
  const entry = newEntry(model({ tag: text(), bed: integer() }), { save: () => undefined });
  const form = steps(entry, { plant: ["tag"], place: ["bed"] });
  await form.next();
  expect(form.current).toBe("place");
  entry.startNew();
  expect(form.current).toBe("plant");
  form.stop();
});

test("steps of a decimal and of a choice stay on the grid, in the list and inside the limits", () => {
  const price = decimal({ minimum: "0.5", maximum: "3", step: "0.5" });
  const step = (from: string | undefined, times: number): string =>
    String(price.stepped!(from === undefined ? undefined : Decimal.of(from), times));
  expect([step("2", 1), step("2", -1), step("2.2", 1), step("2.2", -1), step("2.2", -2)]).toEqual([
    ...["2.5", "1.5", "2.5", "2", "1.5"],
  ]);
  expect([step("3", 1), step("0.5", -1), step(undefined, 1)]).toEqual(["3", "0.5", "0.5"]);
  const kind = oneOf(["a", "b", "c"]);
  const choices = [kind.stepped!(undefined, -1), kind.stepped!("a", 2), kind.stepped!("b", -1), kind.stepped!("c", 1)];
  expect(choices).toEqual(["c", "c", "a", "c"]);
});

test("a number of a row that came back is given to no other", () => {
  const visit = model({ notes: text() });
  const history = newHistory();
  const visits = table(visit, [], { history });
  for (const notes of ["one", "two", "three"]) visits.insert({ notes });
  const last = visits.keyOf([...visits][2]!);
  visits.delete(last);
  history.undo();
  visits.insert({ notes: "four" });
  const keys = [...visits].map((row) => visits.keyOf(row));
  expect([new Set(keys).size, keys[2]]).toEqual([4, last]);
});

test("texts are sorted as the collator has it, also those that differ in their last letters only", () => {
  const random = seeded(9902);
  const newText = (): string =>
    `a${Array.from({ length: random.below(9) }, () => random.pick([..."aAbBzZ19- "])).join("")}`;
  const texts = Array.from({ length: 9_000 }, newText);
  const named = model({ name: text() });
  const { compare } = new Intl.Collator("en", { numeric: true });
  for (const count of [300, texts.length]) {
    const all = texts.slice(0, count);
    const rowsOfTexts = all.map((name) => ({ name }));
    const shown = [...view(table(named, rowsOfTexts, { locale: "en" }), { orderBy: "name" })];
    const wanted = all.toSorted(compare);
    const wrong = shown.findIndex(({ name }, at) => compare(name, wanted[at]!) !== 0);
    expect([random.seed, count, wrong]).toEqual([9902, count, -1]);
  }
});

test("keys that are held down do not edit and end again and again", () => {
  const state = { row: 1, column: 1, rows: 9, columns: 4, page: 5, editing: false } as unknown as GridState;
  const key = (name: string, repeated: boolean) =>
    gridAct({ key: name, repeated, shift: false, control: false, alt: false }, state)?.what;
  expect(["F2", "Enter", " "].map((name) => key(name, true))).toEqual(["nothing", "nothing", "nothing"]);
  expect(key("F2", false)).not.toBe("nothing");
});

describe("rows that are kept", () => {
  const row = (tag: string, bed: number) => ({ tag, bed, height: undefined });

  test("are known by their own versions where others were left out", async () => {
    const place = memoryStore(plant, { rows: [row("A", 1), row("B", 1)] });
    const read = place.read.bind(place);
    place.read = async function* (options) {
      yield { ok: true, row: { tag: 5, bed: 1, height: undefined }, key: "5", version: "other", line: 1 } as never;
      yield* read(options);
    };
    const stock = table(plant, []);
    const kept = await keep(stock, place);
    expect([kept.leftOut.map(({ line }) => line), stock.size]).toEqual([[1], 2]);
    stock.update("A", { bed: 7 });
    expect(await kept.write()).toMatchObject({ ok: true, rows: 1 });
    kept.stop();
  });

  test("are refused in the place's own words where it means no field that holds the value", async () => {
    const place = memoryStore(plant);
    const problem = { code: "notAChoice", message: "This bed is closed.", severity: "error", pointer: "" } as const;
    place.write = () => Promise.resolve({ ok: false, refused: [{ change: 0, problems: [problem] }] });
    const stock = table(plant, []);
    const kept = await keep(stock, place);
    stock.insert(row("A", 1));
    expect((await kept.write()).said).toContain("1 row not saved: This bed is closed.");
    kept.stop();
  });

  test("are in conflict where a reload finds that others have deleted what was changed here", async () => {
    const place = memoryStore(plant, { rows: [row("A", 1), row("B", 1)] });
    const deaf = { ...place, read: place.read.bind(place), write: place.write.bind(place), follow: () => undefined };
    const stock = table(plant, []);
    const kept = await keep(stock, { ...deaf, mark: place.mark.bind(place) });
    const other = await keep(table(plant, []), place.again());
    other.table.delete("A");
    other.table.delete("B");
    await other.write();
    stock.update("A", { bed: 2 });
    await kept.reload();
    expect(kept.conflicts.map(({ key, theirs }) => [key, theirs])).toEqual([["A", undefined]]);
    expect(stock.has("B")).toBe(false);
    for (const each of [kept, other]) each.stop();
  });
});

test("another row begins without what was said of the row before", async () => {
  const stock = table(plant, [row_("A"), row_("B")]);
  const entry = editEntry(plant, stock.get("A")!, {
    save: () => ({ ok: false, problems: [{ code: "x", message: "No.", severity: "error", pointer: "/bed" }] }) as never,
  });
  entry.fields.bed.enter("5");
  await entry.save();
  expect(entry.fields.bed.problems.map(({ message }) => message)).toEqual(["No."]);
  (entry[internal] as EntryState).begin(stock.get("B")!);
  expect(entry.fields.bed.problems).toEqual([]);
});

test("two rows that are moved at once join in one, where the first of them is new there", () => {
  const item = model({ tag: text(), species: text(), count: integer() }, { key: "tag" });
  const stock = table(
    item,
    ["A", "B"].map((tag) => ({ tag, species: "Acer", count: 5 })),
  );
  const lines = table(model({ species: text(), count: integer() }), []);
  const moved = moveRows(stock, lines, ["A", "B"], { quantity: "count", amount: 2, join: ["species"] });
  expect([moved, [...lines]]).toEqual([{ ok: true, rows: 2 }, [{ species: "Acer", count: 4 }]]);
});

test("property: rows inside follow their field also where one row stands in it several times", () => {
  const random = seeded(9901);
  const line = model({ species: text() });
  const entry = newEntry(model({ lines: rows(line) }));
  const lines = rowsOf(entry, "lines");
  const known = ["Acer", "Fagus", "Tilia"].map((species) => Object.freeze({ species }));
  const count = times(400);
  for (let round = 0; round < count; round++) {
    const wanted = Array.from({ length: random.below(6) }, () => random.pick(known));
    entry.values.lines = wanted;
    expect([...lines]).toEqual(wanted);
  }
  console.info(`${count} lists, seed ${random.seed}`);
});

test("what a person chooses ends a conflict", () => {
  const stock = table(plant, [{ tag: "A", bed: 1, height: undefined }]);
  const entry = editEntry(stock, "A");
  entry.fields.bed.enter("2");
  stock.update("A", { bed: 3 });
  expect(entry.fields.bed.conflict).toMatchObject({ theirs: 3 });
  (entry[internal] as unknown as { core: { field(name: string): { choose(value: unknown): void } } }).core
    .field("bed")
    .choose(4);
  expect([entry.fields.bed.conflict, entry.values.bed]).toEqual([undefined, 4]);
});

describe("a table", () => {
  test("that was given a language keeps it when the page has another", () => {
    const [given, free] = [table(plant, [], { locale: "de" }), table(plant, [])];
    for (const each of [given, free]) each[internal].offerLocale("fr");
    expect([given.locale, free.locale]).toEqual(["de", "fr"]);
    free[internal].offerLocale("");
    expect(free.locale).toBe("fr");
  });
});

test("a list of rows takes objects only", () => {
  const order = newEntry(model({ lines: rows(model({ amount: integer() })) }));
  for (const wrong of ["2 oaks", 7, null, ["a"]])
    expect(() => (order.values.lines = [wrong] as never)).toThrow(/lines/);
  order.values.lines = [{ amount: 2 }];
  expect(order.values.lines).toHaveLength(1);
});

test("a column of a file that is calculated is not read", async () => {
  const stock = table(
    model({ tag: text(), girth: number() }, { key: "tag" }).calculated({ half: (row) => row.girth! / 2 }),
    [],
  );
  const { rows: loaded, problems, unused } = await loadRows(stock, "tag,half,girth\nAB-0042,9,31.5\n");
  expect([loaded, problems, unused]).toEqual([1, [], []]);
  expect([...stock]).toEqual([{ tag: "AB-0042", girth: 31.5 }]);
});

test("the slot of a row that is gone is used again once nobody edits that row any more", () => {
  const stock = table(model({ tag: text(), bed: integer() }, { key: "tag" }), [
    { tag: "A", bed: 1 },
    { tag: "B", bed: 2 },
  ]);
  const entry = editEntry(stock, "A");
  stock.delete("A");
  stock.insert({ tag: "C", bed: 3 });
  const state = stock[internal];
  expect(state.slots).toBe(3);
  entry.stop();
  stock.insert({ tag: "D", bed: 4 });
  expect([state.slots, [...stock].map(({ tag }) => tag)]).toEqual([3, ["B", "C", "D"]]);
});

test("what one follower reads alone may begin to read a very long chain", () => {
  const start = new Value(1);
  const isLong = new Value(false);
  let chain = new Calculation(() => start.read());
  for (let length = 0; length < 20_000; length++) {
    const before = chain;
    chain = new Calculation(() => before.read() + 1);
  }
  const shown = new Calculation(() => (isLong.read() ? chain.read() : 0));
  const seen: number[] = [];
  const followed = follow(
    () => shown.read(),
    (now) => seen.push(now),
  );
  isLong.write(true);
  start.write(5);
  expect(seen).toEqual([20_001, 20_005]);
  followed.stop();
});

test("a date that is inside its limits is right, at the limits too", () => {
  const card = newEntry(
    model({ sown: date({ minimum: "2026-03-01", maximum: "2026-05-31" }), due: date({ maximum: "2026-12-31" }) }),
  );
  const wrong = (sown: string, due: string): unknown => {
    Object.assign(card.values, { sown, due });
    return card.problems.map(({ code }) => code);
  };
  expect(wrong("2026-03-01", "2026-12-31")).toEqual([]);
  expect(wrong("2026-05-31", "2020-01-01")).toEqual([]);
  expect(wrong("2026-02-28", "2027-01-01")).toEqual(["rangeUnderflow", "rangeOverflow"]);
});

test("a copy of a row that others delete can't be entered any more, and one that is there can", () => {
  const stock = table(plant, [{ tag: "A", bed: 1, height: undefined }]);
  const copy = new RowCopyState(stock[internal], stock[internal].slotFor("A")!);
  (copy.core.field("bed") as FieldState).enter("2");
  expect(copy.core.field("bed").readOnly).toBe(false);
  stock.delete("A");
  expect(copy.core.field("bed").readOnly).toBe(true);
  copy.stop();
});

test("a copy of a row that was stopped follows its row no more", () => {
  const stock = table(plant, [{ tag: "A", bed: 1, height: undefined }]);
  const copy = new RowCopyState(stock[internal], stock[internal].slotFor("A")!);
  stock.update("A", { bed: 2 });
  expect(copy.core.field("bed").value).toBe(2);
  copy.stop();
  stock.update("A", { bed: 3 });
  expect(copy.core.field("bed").value).toBe(2);
});

test("who has asked for a write is not told again by a notice why it did not come about", async () => {
  const stock = table(plant, [], { locale: "en" });
  const store = memoryStore(plant);
  const kept = await keep(stock, store, { writeAfter: 5 });
  stock.insert({ tag: "A", bed: 1, height: undefined });
  store.failNext("refused", 3);
  const before = notices.history.length;
  const { ok } = await kept.write();
  stock.update("A", { bed: 2 });
  await new Promise((go) => setTimeout(go, 40));
  expect([ok, notices.history.slice(before)]).toEqual([false, []]);
  kept.stop();
});

test("no number takes the place of a number, and is itself", () => {
  const value = new Value(1);
  const seen: number[] = [];
  const followed = follow(
    () => value.read(),
    (now) => seen.push(now),
  );
  for (const next of [NaN, NaN, 0, -0, 2, NaN]) value.write(next);
  expect(seen).toEqual([NaN, 0, 2, NaN]);
  followed.stop();
});

test("who follows one row reads it once, however many others are read besides", () => {
  const rows_ = Array.from({ length: 500 }, (_, at) => ({ tag: `T${at}`, bed: at, height: undefined }));
  const stock = table(plant, rows_);
  let reads = 0;
  const followed = follow(
    () => (reads++, stock.get("T0")?.bed),
    () => undefined,
  );
  let sums = 0;
  const sum = new Calculation(() => (sums++, rows_.reduce((all, { tag }) => all + stock.get(tag)!.bed!, 0)));
  expect([sum.read(), reads]).toEqual([124_750, 1]);
  // What nobody follows stands as long as nothing has changed.
  new Value(1).write(2);
  expect([sum.read(), sums]).toEqual([124_750, 1]);
  stock.update("T7", { bed: 8 });
  expect([sum.read(), reads]).toEqual([124_751, 1]);
  stock.update("T0", { bed: 1 });
  expect([sum.read(), reads]).toEqual([124_752, 2]);
  followed.stop();
});

test("how many rows are being edited is followed from before the first", async () => {
  const stock = table(plant, [], { locale: "en" });
  const kept = await keep(stock, memoryStore(plant, { rows: [{ tag: "A", bed: 1, height: undefined }] }));
  const seen: number[] = [];
  const followed = follow(
    () => kept.editingCount,
    (now) => seen.push(now),
  );
  const entry = editEntry(stock, "A");
  entry.fields.bed.enter("2");
  entry.fields.bed.enter("1");
  expect(seen).toEqual([1, 0]);
  followed.stop();
  entry.stop();
  kept.stop();
});

test("a slot that two hold is used again when both have let go of it", () => {
  const stock = table(plant, [
    { tag: "A", bed: 1, height: undefined },
    { tag: "B", bed: 2, height: undefined },
  ]);
  const state = stock[internal];
  state.pin(0);
  state.pin(0);
  stock.delete("A");
  state.unpin(0);
  stock.insert({ tag: "C", bed: 3 });
  expect(state.slots).toBe(3);
  state.unpin(0);
  stock.insert({ tag: "D", bed: 4 });
  expect(state.slots).toBe(3);
});

test.each(["calculated", "proposed", "relevant", "required", "readOnly", "choices"] as const)(
  ".%s() refuses what is no function, with the field",
  (call) => {
    const plain = model({ notes: text(), bed: integer() }) as unknown as Record<string, (given: object) => unknown>;
    expect(() => plain[call]!({ notes: "always" })).toThrow(/notes.*function/s);
  },
);

test.each([
  [{ const: 4 }, [4], [5, 3.9]],
  [{ multipleOf: 5 }, [10, 0, -5], [11, 0.5]],
  [{ exclusiveMinimum: 0, exclusiveMaximum: 10 }, [0.1, 9.9], [0, 10]],
  [{ exclusiveMinimum: 0, exclusiveMaximum: 10, multipleOf: 2, const: 4 }, [4], [2, 3, 5, 0, 10]],
])("a number with %j is right as %j and wrong as %j", (options, right, wrong) => {
  const entry = newEntry(model({ height: number(options) }));
  const problemsOf = (height: number): number => {
    entry.values.height = height;
    return entry.problems.length;
  };
  expect(right.map(problemsOf)).toEqual(right.map(() => 0));
  for (const each of wrong) expect([each, problemsOf(each) > 0]).toEqual([each, true]);
});

test("steps stay inside limits that are no values themselves, and wrong limits are refused", () => {
  const { stepped } = integer({ exclusiveMinimum: 0, exclusiveMaximum: 10, step: 3 });
  expect([1, 3, 6, 9].map((value) => [stepped!(value, -1), stepped!(value, 1)])).toEqual([
    [1, 3],
    [3, 6],
    [3, 9],
    [6, 9],
  ]);
  expect([stepped!(undefined, 1), stepped!(undefined, -1)]).toEqual([3, 3]);
  const fine = number({ exclusiveMinimum: 0, exclusiveMaximum: 1, step: 0.1 }).stepped!;
  expect([fine(0.1, -1), fine(0.8, 1), fine(0.9, 1)]).toEqual([0.1, 0.9, 0.9]);
  const few = newEntry(model({ few: integer({ exclusiveMinimum: 0, exclusiveMaximum: 4 }) }), { locale: "en" });
  few.fields.few.enter("x");
  expect([few.problems[0]!.message, integer({ exclusiveMinimum: 0 }).inputMode]).toEqual([
    expect.stringMatching(/\b1\b/),
    "numeric",
  ]);
  few.fields.few.enter("4");
  expect(few.problems.map(({ code, message }) => [code, message])).toEqual([
    ["rangeOverflow", expect.stringMatching(/4/)],
  ]);
  for (const wrong of [
    { minimum: "5" },
    { exclusiveMaximum: NaN },
    { exclusiveMinimum: 4, exclusiveMaximum: 4 },
    { step: "1" },
  ])
    expect(() => number(wrong as never)).toThrow(/finite number|more than/);
});

test("who follows one row is told when all rows are loaded anew, and when that is taken back", () => {
  const stock = table(plant, [{ tag: "A", bed: 1, height: undefined }]);
  const seen: unknown[] = [];
  const followed = follow(
    () => stock.get("A")?.bed,
    (now) => seen.push(now),
  );
  stock.load([{ tag: "A", bed: 2, height: undefined }]);
  stock.load([]);
  expect(() =>
    transaction(() => {
      stock.load([{ tag: "A", bed: 3, height: undefined }]);
      throw new Error("Not now.");
    }),
  ).toThrow("Not now.");
  expect([seen, stock.get("A")]).toEqual([[2, undefined], undefined]);
  followed.stop();
});
