import { platform } from "../engine/index.ts";
import { type RowOf } from "../model/index.ts";
import { Decimal } from "../notation/index.ts";
import type { StoreCheck } from "./StoreUnderTest.ts";
import {
  all,
  asSeen,
  everything,
  hostile,
  insert,
  lines,
  mustWrite,
  newId,
  row,
  rowsOf,
  same,
  seen,
  type StoreChecker,
  visits,
} from "./storeTools.ts";

const isMoment = (text: string | undefined): boolean => !Number.isNaN(Date.parse(text ?? ""));

/** What is kept: rows, keys, versions, conflicts, all or nothing. */
export function keepingChecks({ place, newName, check, withRows }: StoreChecker): readonly StoreCheck[] {
  return [
    check("a place in which nothing is has no rows, and a name", async (store) => {
      same(await all(store), [], "rows");
      same(store.place === "", false, "a place without a name");
    }),
    {
      name: "every kind of value comes back to the last digit and letter",
      async run() {
        const at = newName();
        const given: RowOf<typeof everything>[] = [
          {
            tag: "all",
            price: Decimal.of("123456789012345678901234567890.000000000000000000001"),
            height: 0.1 + 0.2,
            sown: "2024-02-29",
            at: "2026-03-29T00:59:59.999Z",
            place: { bed: -7, row: "Ä" },
            marks: ["a", "", "b, c"],
          },
          {
            tag: "blank",
            price: undefined,
            height: undefined,
            sown: undefined,
            at: undefined,
            place: { bed: undefined, row: "" },
            marks: [],
          },
        ];
        const store = await place.open(everything, at);
        await mustWrite(store, given.map(insert));
        const found = (await all(await place.open(everything, at))).map((each) => each.row);
        same(
          found.map(({ marks, ...rest }) => ({ ...rest, marks: [...marks] })),
          given,
          "rows",
        );
        same(String(found[0]!.price), String(given[0]!.price), "an exact decimal");
        return true;
      },
    },
    check("names that mean something elsewhere are names: as keys, and as texts", async (store, again) => {
      await mustWrite(
        store,
        hostile.map((each, at) => insert(row(each, at, each))),
      );
      same(await rowsOf(await again()), asSeen(hostile.map((each, at) => row(each, at, each))), "rows");
      const there = await all(store);
      const changed = there.map(
        (each) => ({ kind: "update", key: each.key, version: "another", row: each.row }) as const,
      );
      const late = await store.write(changed, { id: newId() });
      same(
        !late.ok && "conflicts" in late && late.conflicts.map(({ now }) => [now?.key, now?.row.notes]),
        there.map(({ key, row: { notes } }) => [key, notes]),
        "the rows that others have changed",
      );
      await mustWrite(
        store,
        there.map(({ key, version }) => ({ kind: "delete", key, version })),
      );
      same(await rowsOf(await again()), [], "rows after deleting all");
    }),
    withRows(
      "rows are changed, deleted and put in, in one write; other rows keep their versions",
      async (store, versions, again) => {
        const { written } = await mustWrite(store, [
          { kind: "update", key: "A", version: versions[0]!, row: row("A", 10, "changed") },
          { kind: "delete", key: "B", version: versions[1]! },
          insert(row("D", 4)),
        ]);
        same(await rowsOf(await again()), asSeen([row("A", 10, "changed"), row("C", 3), row("D", 4)]), "rows");
        same(written[1] === undefined, true, "a deleted row has no version");
        const now = new Map((await all(store)).map((each) => [each.key, each.version]));
        same(
          [now.get("A"), now.get("C"), now.get("D")],
          [written[0]!.version, versions[2], written[2]!.version],
          "versions",
        );
        same(now.get("A") === versions[0], false, "a changed row has its former version");
      },
    ),
    withRows(
      "rows may exchange their keys in one write, and a deleted key is free in the same",
      async (store, versions, again) => {
        await mustWrite(store, [
          { kind: "update", key: "A", version: versions[0]!, row: row("B", 1) },
          { kind: "update", key: "B", version: versions[1]!, row: row("A", 2) },
          { kind: "delete", key: "C", version: versions[2]! },
          insert(row("C", 30)),
        ]);
        same(await rowsOf(await again()), asSeen([row("B", 1), row("A", 2), row("C", 30)]), "rows");
      },
    ),
    withRows(
      "a conflict in one change writes none, and all conflicts are named with the rows as they are",
      async (store, versions, again) => {
        const other = await again();
        await mustWrite(other, [{ kind: "update", key: "A", version: versions[0]!, row: row("A", 100) }]);
        await mustWrite(other, [{ kind: "delete", key: "B", version: versions[1]! }]);
        const result = await store.write(
          [
            { kind: "update", key: "C", version: versions[2]!, row: row("C", 33) },
            { kind: "update", key: "A", version: versions[0]!, row: row("A", 11) },
            { kind: "delete", key: "B", version: versions[1]! },
            insert(row("E", 5)),
          ],
          { id: newId() },
        );
        if (result.ok || !("conflicts" in result)) throw new Error(`A conflict was not told: ${seen(result)}`);
        same(
          result.conflicts.map(({ key, now }) => [key, now?.row ?? "gone"]),
          [
            ["A", row("A", 100)],
            ["B", "gone"],
          ],
          "conflicts",
        );
        same(await rowsOf(store), asSeen([row("A", 100), row("C", 3)]), "rows after a conflict");
        // With the version that was told, it can be written.
        await mustWrite(store, [
          { kind: "update", key: "A", version: result.conflicts[0]!.now!.version, row: row("A", 11) },
        ]);
      },
    ),
    withRows(
      "a key that another row has is refused at its field, and nothing of the write is kept",
      async (store, versions) => {
        const before = await rowsOf(store);
        for (const change of [
          insert(row("A", 9)),
          { kind: "update", key: "B", version: versions[1]!, row: row("A", 2) } as const,
        ]) {
          const result = await store.write([insert(row("F", 6)), change], { id: newId() });
          if (result.ok || !("refused" in result)) throw new Error(`A key was taken twice: ${seen(result)}`);
          const [refused] = result.refused;
          same(
            [refused?.change, refused?.problems[0]?.code, refused?.problems[0]?.pointer],
            [1, "keyTaken", "/tag"],
            "what was refused",
          );
          same(await rowsOf(store), before, "rows");
        }
        const twice = await store.write([insert(row("G")), insert(row("G"))], { id: newId() });
        same(twice.ok, false, "one key twice in one write");
      },
    ),
    withRows("the same write asked for again is done once, and has the same answer", async (store, versions, again) => {
      const id = newId();
      const changes = [
        insert(row("D", 4)),
        { kind: "update", key: "A", version: versions[0]!, row: row("A", 5) } as const,
      ];
      const first = await store.write(changes, { id });
      same(await store.write(changes, { id }), first, "the second answer");
      same(await (await again()).write(changes, { id }), first, "the answer to another store");
      same(await rowsOf(store), asSeen([row("A", 5), row("B", 2), row("C", 3), row("D", 4)]), "rows");
    }),
    {
      name: "keys of several fields, and numbers in them, are told apart",
      async run() {
        const at = newName();
        const store = await place.open(lines, at);
        const given = [
          { order: 1, line: "1", count: 1 },
          { order: 11, line: "", count: 2 },
          { order: 1, line: "11", count: 3 },
          { order: 1, line: "1,1", count: 4 },
        ];
        const { written } = await mustWrite(store, given.map(insert));
        same(
          written.map((each) => each!.key),
          given.map(({ order, line }) => [order, line]),
          "keys",
        );
        await mustWrite(store, [{ kind: "delete", key: written[0]!.key, version: written[0]!.version }]);
        same((await all(await place.open(lines, at))).map((each) => each.row.count).sort(), [2, 3, 4], "rows");
        return true;
      },
    },
    {
      name: "a new row is given its running number and when it was made, once, and a changed one when it was changed",
      async run() {
        const at = newName();
        const store = await place.open(visits, at);
        const visit = (tag: string): RowOf<typeof visits> => ({
          tag,
          number: undefined,
          made: undefined,
          changed: undefined,
        });
        const first = await mustWrite(
          store,
          ["A", "B"].map((tag) => insert(visit(tag))),
          "given",
        );
        const [a, b] = first.written;
        // A place need not give anything.
        if (a!.row.number === undefined) return false;
        same([a!.row.number, b!.row.number], [1, 2], "running numbers");
        same(isMoment(a!.row.made) && isMoment(a!.row.changed), true, "moments");
        const again = await mustWrite(
          store,
          ["A", "B"].map((tag) => insert(visit(tag))),
          "given",
        );
        same(again.written, first.written, "the answer of the same write");
        await new Promise<void>((go) => void platform.after(5, go));
        const other = await place.open(visits, at);
        const next = await mustWrite(other, [
          { kind: "update", key: "A", version: a!.version, row: a!.row },
          { kind: "delete", key: "B", version: b!.version },
          insert(visit("C")),
        ]);
        const { number, made, changed } = next.written[0]!.row;
        same([number, made, changed! > a!.row.changed!], [1, a!.row.made, true], "a changed row");
        same(next.written[2]!.row.number, 3, "the number of the next one");
        return true;
      },
    },
  ];
}
