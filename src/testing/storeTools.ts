import { platform } from "../engine/index.ts";
import { date, decimal, group, instant, integer, list, model, number, type RowOf, text } from "../model/index.ts";
import type { ChangeableStore, StoreChange, VersionedRow, WriteResult } from "../store/index.ts";
import type { StoreCheck, StoreUnderTest } from "./StoreUnderTest.ts";

export const plant = model({ tag: text(), bed: integer(), notes: text() }, { key: "tag" });
export type Plant = RowOf<typeof plant>;

export const everything = model(
  {
    tag: text(),
    price: decimal(),
    height: number(),
    sown: date(),
    at: instant(),
    place: group({ bed: integer(), row: text() }),
    marks: list(text()),
  },
  { key: "tag" },
);

export const lines = model({ order: integer(), line: text(), count: integer() }, { key: ["order", "line"] });

export const visits = model(
  {
    tag: text(),
    number: integer({ given: "number" }),
    made: instant({ given: "created" }),
    changed: instant({ given: "changed" }),
  },
  { key: "tag" },
);

/** Names that mean something in one place or another. */
export const hostile = [
  ...[
    "__proto__",
    "constructor",
    "toString",
    "'; drop table plant; --",
    '"',
    "`",
    "%s %d",
    "../../x",
    "CON",
    "a\u0000b",
    "\u202eevil",
  ],
  ...[
    "line\nbreak",
    "line\r\nbreak",
    "tab\there",
    "ÄÖÜ ß",
    "日本語",
    "👩🏽‍🌾",
    "=1+1",
    "-",
    "null",
    "0",
    " blank ",
    "e\u0301",
  ],
];

/** As JSON has it, with what is blank left out, so that rows are compared as people see them. */
export const seen = (value: unknown): string =>
  JSON.stringify(value, (_, part: unknown) => (part === undefined || part === "" ? undefined : part));

export function same(found: unknown, right: unknown, what: string): void {
  if (seen(found) !== seen(right)) throw new Error(`${what}: found ${seen(found)}; right would be ${seen(right)}`);
}

let ids = 0;
export const newId = (): string => `conformance-${ids++}`;

export async function all<Row, Key>(store: ChangeableStore<Row, Key>): Promise<VersionedRow<Row, Key>[]> {
  const rows: VersionedRow<Row, Key>[] = [];
  for await (const each of store.read()) {
    if (!each.ok) throw new Error(`A row that was written can't be read: ${seen(each.problems)}`);
    rows.push({ key: each.key!, version: each.version!, row: each.row });
  }
  return rows;
}

export const rowsOf = async (store: ChangeableStore<Plant, string>): Promise<string[]> =>
  (await all(store)).map(({ row }) => seen(row)).sort();
export const asSeen = (rows: readonly object[]): string[] => rows.map(seen).sort();

export const insert = <Row>(row: Row): StoreChange<Row, never> => ({ kind: "insert", row });

export async function mustWrite<Row, Key>(
  store: ChangeableStore<Row, Key>,
  changes: readonly StoreChange<Row, Key>[],
  id = newId(),
): Promise<Extract<WriteResult<Row, Key>, { ok: true }>> {
  const result = await store.write(changes, { id });
  if (!result.ok) throw new Error(`It was not written: ${seen(result)}`);
  return result;
}

/** Waits until something holds, as what others write is told in its own time. */
export async function until(what: string, holds: () => boolean): Promise<void> {
  const end = platform.now() + 5_000;
  while (!holds()) {
    if (platform.now() > end) throw new Error(`It never came to this: ${what}`);
    await new Promise<void>((go) => void platform.after(5, go));
  }
}

export const row = (tag: string, bed?: number, notes = ""): Plant => ({ tag, bed, notes });

type Again = () => Promise<ChangeableStore<Plant, string>>;

/** Makes checks, each with a place of its own. */
export interface StoreChecker {
  readonly place: StoreUnderTest;
  readonly newName: () => string;
  /** A check that begins with a place where nothing is; what it returns is `false` where the place can't be brought to it. */
  readonly check: (
    name: string,
    work: (store: ChangeableStore<Plant, string>, again: Again) => Promise<boolean | void>,
  ) => StoreCheck;
  /** The same, with three rows there. */
  readonly withRows: (
    name: string,
    work: (store: ChangeableStore<Plant, string>, versions: readonly string[], again: Again) => Promise<boolean | void>,
  ) => StoreCheck;
}

/** What makes the checks of one kind of place, each with a place of its own. */
export function storeChecker(place: StoreUnderTest): StoreChecker {
  let places = 0;
  const newName = (): string => `place-${places++}`;
  const check = (
    name: string,
    work: (
      store: ChangeableStore<Plant, string>,
      again: () => Promise<ChangeableStore<Plant, string>>,
    ) => Promise<boolean | void>,
  ): StoreCheck => ({
    name,
    async run() {
      const at = newName();
      const open = async (): Promise<ChangeableStore<Plant, string>> => place.open(plant, at);
      return (await work(await open(), open)) !== false;
    },
  });
  /** The same, with three rows there. */
  const withRows = (
    name: string,
    work: (
      store: ChangeableStore<Plant, string>,
      versions: readonly string[],
      again: () => Promise<ChangeableStore<Plant, string>>,
    ) => Promise<boolean | void>,
  ): StoreCheck =>
    check(name, async (store, again) => {
      const { written } = await mustWrite(store, [insert(row("A", 1)), insert(row("B", 2)), insert(row("C", 3))]);
      return work(
        store,
        written.map((each) => each!.version),
        again,
      );
    });

  return { place, newName, check, withRows };
}
