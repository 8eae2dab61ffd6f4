import { newId, sameValue } from "../engine/index.ts";
import { type Cell, identifier } from "./columns.ts";
import type { Statement } from "./driver.ts";
import type { MappedColumn } from "./mappedColumns.ts";

/** A row that is to be changed. */
interface RowUpdate {
  readonly index: number;
  readonly row: unknown;
  readonly now: unknown;
  /** The cells of the key by which it is found at the moment. */
  key: readonly Cell[];
}

/** Has a change done; what it throws is noted for it. */
type Attempt = (index: number, work: () => void) => void;

const isSame = (one: readonly Cell[], other: readonly Cell[]): boolean =>
  JSON.stringify(one.map(String)) === JSON.stringify(other.map(String));

/** Writes single rows into a table of another program: only the cells that are to be others. */
export class MappedWrite {
  readonly #table: string;
  readonly #byKey: string;
  readonly #keyNames: readonly string[];

  constructor(
    private readonly prepare: (sql: string) => Statement,
    private readonly columns: readonly MappedColumn[],
    private readonly keyColumns: readonly MappedColumn[],
    name: string,
  ) {
    this.#table = identifier(name);
    this.#keyNames = keyColumns.map((column) => identifier(column.name));
    this.#byKey = this.#keyNames.map((key) => `${key} IS ?`).join(" AND ");
  }

  delete(key: readonly Cell[]): void {
    this.prepare(`DELETE FROM ${this.#table} WHERE ${this.#byKey}`).run(key);
  }

  /** @returns the number by which SQLite knows the row */
  insert(row: unknown): number {
    const filled = this.columns
      .filter(({ shown }) => !shown.isGenerated)
      .map(({ name, shown, kind, valueOf, toCell }) => {
        const value = valueOf(row);
        const isLeft = shown.hasDefault && (value === undefined || kind.isBlank(value));
        return { name, isLeft, cell: toCell(value) };
      })
      // What is blank is what the table gives where it gives something.
      .filter(({ isLeft }) => !isLeft);
    const names = filled.map(({ name }) => identifier(name)).join(", ");
    const values = `(${names}) VALUES (${filled.map(() => "?").join(", ")})`;
    const statement = this.prepare(`INSERT INTO ${this.#table} ${filled.length === 0 ? "DEFAULT VALUES" : values}`);
    return Number(statement.run(filled.map(({ cell }) => cell)).lastInsertRowid);
  }

  /** Changes rows where they are, so that what refers to them and what the model does not know stays. They may exchange their keys. */
  update(updates: RowUpdate[], attempt: Attempt): void {
    let waiting = updates;
    while (waiting.length > 0) {
      const later = waiting.filter((each) => {
        if (this.#isTaken(each)) return true;
        attempt(each.index, () => this.#change(each));
        return false;
      });
      if (later.length === waiting.length && !this.#makeRoom(later, attempt)) {
        // The key is that of a row which stays: the database says so.
        for (const each of later) attempt(each.index, () => this.#change(each));
        return;
      }
      waiting = later;
    }
  }

  #keyOf(row: unknown): Cell[] {
    return this.keyColumns.map(({ valueOf, toCell }) => toCell(valueOf(row)));
  }

  /** Whether another row has the key that one is to have. */
  #isTaken({ key, row, now }: RowUpdate): boolean {
    const wanted = this.#keyOf(now);
    if (isSame(this.#keyOf(row), wanted)) return false;
    const found = this.prepare(`SELECT ${this.#keyNames.join(", ")} FROM ${this.#table} WHERE ${this.#byKey}`)
      .raw()
      .get(wanted) as Cell[] | undefined;
    return found !== undefined && !isSame(found, key);
  }

  /** Gives a row whose key another one waits for a key for the moment. @returns whether there is such a row */
  #makeRoom(waiting: readonly RowUpdate[], attempt: Attempt): boolean {
    const wanted = waiting.map(({ now }) => this.#keyOf(now));
    const blocking = waiting.find(({ key }) => wanted.some((each) => isSame(each, key)));
    if (blocking === undefined) return false;
    const [first, ...others] = blocking.key;
    const name = this.#keyNames[0]!;
    const free = `SELECT coalesce(min(${name}), 0) - 1 FROM ${this.#table}`;
    const moment = typeof first === "number" ? (this.prepare(free).raw().get() as [number])[0] : newId();
    attempt(blocking.index, () => {
      this.prepare(`UPDATE ${this.#table} SET ${name} = ? WHERE ${this.#byKey}`).run([moment, ...blocking.key]);
    });
    blocking.key = [moment, ...others];
    return true;
  }

  #change({ key, row, now }: RowUpdate): void {
    const changed = this.columns.filter(({ valueOf, shown }) => {
      // A cell whose value is the same stays as it was written.
      return !shown.isGenerated && !sameValue(valueOf(row), valueOf(now));
    });
    // While rows exchange their keys, one may have another than it had.
    const moved = this.keyColumns.filter(
      (column, at) => !changed.includes(column) && column.toCell(column.valueOf(now)) !== key[at],
    );
    const all = [...changed, ...moved];
    if (all.length === 0) return;
    const set = all.map(({ name }) => `${identifier(name)} = ?`).join(", ");
    const cells = all.map(({ toCell, valueOf }) => toCell(valueOf(now)));
    this.prepare(`UPDATE ${this.#table} SET ${set} WHERE ${this.#byKey}`).run([...cells, ...key]);
  }
}
