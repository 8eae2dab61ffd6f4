import { platform } from "../engine/index.ts";
import { model, text } from "../model/index.ts";
import type { StoreNews } from "../store/index.ts";
import type { StoreCheck } from "./StoreUnderTest.ts";
import {
  all,
  asSeen,
  insert,
  mustWrite,
  newId,
  row,
  rowsOf,
  same,
  seen,
  until,
  type Plant,
  type StoreChecker,
} from "./storeTools.ts";

/** What several do at one place, and what goes wrong there. */
export function sharingChecks({ place, newName, check, withRows }: StoreChecker): readonly StoreCheck[] {
  return [
    withRows(
      "who follows from a mark is told what others write, in order, once, and nothing after it was stopped",
      async (store, _, again) => {
        const other = await again();
        const mark = await store.mark();
        const { written } = await mustWrite(other, [insert(row("D", 1))], "before");
        const news: StoreNews<Plant, string>[] = [];
        const controller = platform.newController();
        store.follow(mark, (each) => news.push(each), { signal: controller.signal });
        let version = written[0]!.version;
        for (let bed = 2; bed <= 20; bed++) {
          const next = await mustWrite(
            other,
            [{ kind: "update", key: "D", version, row: row("D", bed) }],
            `bed-${bed}`,
          );
          version = next.written[0]!.version;
        }
        await mustWrite(store, [{ kind: "delete", key: "D", version }], "gone");
        await until("all is told", () => news.some((each) => each.kind === "changes" && each.id === "gone"));
        // Who can't be told of what others write has all read again besides.
        const mayReload = place.hasOtherWriters === true;
        const told = news
          .map((each) => (each.kind === "changes" ? each.id : "reload"))
          .filter((each) => !mayReload || each !== "reload");
        const ids = Array.from({ length: 19 }, (__, at) => `bed-${at + 2}`);
        same(told, ["before", ...ids, "gone"], "what was told");
        // A row may be told as it is now, when it was written again since; never as it was before.
        const beds = news
          .filter((each) => !mayReload || each.kind === "changes")
          .map((each) => (each.kind === "changes" ? (each.changes[0]?.now?.row.bed ?? Infinity) : 0));
        const stale = beds.findIndex((bed, at) => bed < Math.min(at + 1, 21));
        same(stale, -1, "the first that was told with a row as it was before");
        same(beds.at(-1) === Infinity, true, "that the row is gone in the end");
        controller.abort();
        const count = news.length;
        await mustWrite(other, [insert(row("E", 1))]);
        await new Promise<void>((go) => void platform.after(50, go));
        same(news.length, count, "news after it was stopped");
        // From the last mark on there is nothing before.
        const late: StoreNews<Plant, string>[] = [];
        const second = platform.newController();
        store.follow(news.at(-1)!.mark, (each) => late.push(each), { signal: second.signal });
        await until("what came later is told", () => late.some((each) => each.kind === "changes"));
        second.abort();
        same(
          late
            .filter((each) => !mayReload || each.kind === "changes")
            .map((each) => each.kind === "changes" && each.changes[0]?.key),
          ["E"],
          "what was told from the last mark on",
        );
      },
    ),
    check("a mark that is none of the place has all read again", async (store) => {
      const news: StoreNews<Plant, string>[] = [];
      const controller = platform.newController();
      await mustWrite(store, [insert(row("A"))]);
      store.follow("no mark of this place", (each) => news.push(each), { signal: controller.signal });
      await until("that all has to be read again is told", () => news.length > 0);
      controller.abort();
      same(news[0]!.kind, "reload", "what was told");
    }),
    withRows(
      "eight writers at once lose no change: of two of one version one is written, the other is told",
      async (_, __, again) => {
        const stores = await Promise.all(Array.from({ length: 8 }, () => again()));
        let conflicts = 0;
        await Promise.all(
          stores.map(async (store, number) => {
            for (let done = 0; done < 10;) {
              const own = (await all(store)).find(({ key }) => key === "A")!;
              const change = {
                kind: "update",
                key: "A",
                version: own.version,
                row: row("A", own.row.bed! + 1),
              } as const;
              // Each takes another while, so that what one has read is old when another writes.
              await new Promise<void>((go) => void platform.after((7 * number + 3 * done) % 5, go));
              const { ok } = await store.write([change], { id: newId() });
              if (ok) done++;
              else conflicts++;
            }
          }),
        );
        const [first] = await all(stores[0]!);
        same(
          [first?.key, first?.row.bed, conflicts > 0],
          ["A", 81, true],
          "a counter that eight counted up, and whether anybody was told of another",
        );
      },
    ),
    withRows("a write that is stopped before it began is none", async (store) => {
      const controller = platform.newController();
      controller.abort(new Error("Stopped."));
      const writing = store.write([insert(row("D"))], { id: newId(), signal: controller.signal });
      same(
        await writing.then(
          () => "written",
          (error: unknown) => (error as Error).message,
        ),
        "Stopped.",
        "a stopped write",
      );
      same((await all(store)).length, 3, "rows");
    }),
    withRows(
      "where there is no room nothing is kept, it is told in words, and the same write works later",
      async (store, _, again) => {
        if (place.failNext === undefined || place.failNext(store as never, "full") === false) return false;
        const id = newId();
        const failed = await store.write([insert(row("D")), insert(row("E"))], { id }).then(
          () => undefined,
          (error: unknown) => error as { kind?: string; message: string },
        );
        same(failed?.kind, "full", "the kind of the failure");
        same(
          failed!.message.includes(store.place) && failed!.message.length > store.place.length + 20,
          true,
          "a text that names the place",
        );
        same((await rowsOf(await again())).length, 3, "rows after the failure");
        await mustWrite(store, [insert(row("D")), insert(row("E"))], id);
        return true;
      },
    ),
    withRows("a write whose answer was lost is not done twice when it is asked for again", async (store, versions) => {
      if (place.failNext === undefined || place.failNext(store as never, "lostAnswer") === false) return false;
      const id = newId();
      const changes = [
        { kind: "update", key: "A", version: versions[0]!, row: row("A", 2) } as const,
        insert(row("D")),
      ];
      same(
        await store.write(changes, { id }).then(
          () => "heard",
          () => "lost",
        ),
        "lost",
        "the first answer",
      );
      await mustWrite(store, changes, id);
      same(await rowsOf(store), asSeen([row("A", 2), row("B", 2), row("C", 3), row("D")]), "rows");
      return true;
    }),
    check("many rows are written in one write and read one after the other", async (store, again) => {
      const count = place.rows ?? 100_000;
      const middle = Math.floor(count / 2);
      const many = Array.from({ length: count }, (_, at) => row(`T${at}`, at));
      const { written } = await mustWrite(store, many.map(insert));
      const result = await store.write(
        written.map((each, at) => ({
          kind: "update",
          key: each!.key,
          version: at === middle ? "another" : each!.version,
          row: { ...each!.row, notes: "changed" },
        })),
        { id: newId() },
      );
      same(
        !result.ok && "conflicts" in result && result.conflicts.map(({ key }) => key),
        [`T${middle}`],
        "the one conflict",
      );
      let found = 0;
      let sum = 0;
      for await (const each of (await again()).read()) {
        found++;
        if (each.ok) sum += each.row.bed! + each.row.notes.length;
      }
      same([found, sum], [count, (count * (count - 1)) / 2], "rows, and their beds together");
    }),
    {
      name: "rows without a key of their own are kept under one that is hidden, also where they are equal",
      async run() {
        if (place.needsKey === true) return false;
        const at = newName();
        const notes = model({ notes: text() });
        const store = await place.open(notes, at);
        const { written } = await mustWrite(store, [
          insert({ notes: "a" }),
          insert({ notes: "a" }),
          insert({ notes: "b" }),
        ]);
        same(new Set(written.map((each) => seen(each!.key))).size, 3, "different keys");
        await mustWrite(store, [
          { kind: "delete", key: written[0]!.key, version: written[0]!.version },
          { kind: "update", key: written[2]!.key, version: written[2]!.version, row: { notes: "c" } },
        ]);
        const found = await all(await place.open(notes, at));
        same(found.map((each) => each.row.notes).sort(), ["a", "c"], "rows");
        same(
          found.map((each) => seen(each.key)).sort(),
          [written[1]!, written[2]!].map((each) => seen(each.key)).sort(),
          "keys",
        );
        return true;
      },
    },
  ];
}
