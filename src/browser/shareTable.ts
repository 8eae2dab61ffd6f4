import { IronwoodError, requireArgument, requireTable } from "../errors/index.ts";
import { dispose, getOrMake, internal, newId, type Stoppable, transaction } from "../engine/index.ts";
import type { AnyModel, KeyOf, RowOf } from "../model/index.ts";
import { fromJson, toJson } from "../store/text/index.ts";
import { rowWithFields } from "../merge/index.ts";
import { applyStored, followRows, type RowChange, type Table } from "../table/index.ts";

/** When something was changed: a count that grows with every message, and where two are alike, the window. */
type Stamp = readonly [count: number, window: string];

interface Sent {
  /** The key as it was before; texts and numbers, or a list of them. */
  readonly key: unknown;
  /** The row as JSON; `undefined` when it was deleted. */
  readonly row: Readonly<Record<string, unknown>> | undefined;
  /** The fields that were changed; of a new row, all. */
  readonly fields: readonly string[] | undefined;
}

type Message =
  | { readonly kind: "hello"; readonly window: string }
  | {
      readonly kind: "all";
      readonly to: string | undefined;
      readonly stamp: Stamp;
      readonly rows: readonly Readonly<Record<string, unknown>>[];
    }
  | { readonly kind: "changes"; readonly stamp: Stamp; readonly changes: readonly Sent[] };

/** A table that is shared with other windows. */
export interface SharedTable extends Stoppable {
  /** Fulfilled when the rows of another window are here, or there is none: whether there was one. */
  readonly ready: Promise<boolean>;
}

/** So many milliseconds another window has to answer. */
const ANSWER = 400;

/**
 * Keeps a table the same in all windows of this browser that share it under one name: each change is in the others a moment
 * later. A window that comes later takes the rows of those that are there. When two windows change the same field at once,
 * both end with the later change; changes of different fields are both kept. What another window did is not undone here.
 *
 * @throws `wrongOption` for rows without a key of their own, which no two windows would call the same
 * @example
 * const shared = shareTable(stock, "stock");
 * if (!(await shared.ready)) await loadRows(stock, text);
 */
export function shareTable<M extends AnyModel>(table: Table<M>, name: string): SharedTable {
  requireTable("shareTable", table);
  requireArgument(typeof name === "string", "shareTable", name, "a name that all windows give");
  if (table.model.parts.key.length === 0)
    throw new IronwoodError("wrongOption", "shareTable was given rows that have no key of their own", {
      where: table[internal].where,
      expected: "a model with a key",
    });
  return new Sharing(table, name);
}

class Sharing<M extends AnyModel> implements SharedTable {
  readonly ready: Promise<boolean>;
  readonly #channel: BroadcastChannel;
  readonly #window = newId();
  readonly #following: Stoppable;
  /** When each field of a row was changed last, and under "" when the row came or went. */
  readonly #stamps = new Map<string, Map<string, Stamp>>();
  #count = 0;
  #taking = false;
  #answered: (there: boolean) => void = () => {};
  readonly #table: Table<M>;

  constructor(table: Table<M>, name: string) {
    this.#table = table;
    this.#channel = new BroadcastChannel(`ironwood ${name}`);
    this.#channel.onmessage = ({ data }: MessageEvent<Message>) => this.#take(data);
    this.#following = followRows(table, (changes, { loaded }) => this.#tell(changes, loaded));
    this.ready = new Promise((resolve) => {
      const timer = setTimeout(() => resolve(false), ANSWER);
      this.#answered = (there) => {
        clearTimeout(timer);
        resolve(there);
      };
    });
    this.#send({ kind: "hello", window: this.#window });
  }

  #send(message: Message): void {
    this.#channel.postMessage(message);
  }

  #next(): Stamp {
    return [++this.#count, this.#window];
  }

  #tell(changes: readonly RowChange<M>[], loaded: boolean): void {
    if (this.#taking) return;
    const stamp = this.#next();
    if (loaded) {
      this.#stamps.clear();
      return this.#send({ kind: "all", to: undefined, stamp, rows: this.#rows() });
    }
    const sent = changes.map((change) => this.#sent(change));
    for (const { key, fields } of sent) this.#stamp(key, fields ?? [""], stamp);
    this.#send({ kind: "changes", stamp, changes: sent });
  }

  #rows(): Readonly<Record<string, unknown>>[] {
    return [...this.#table].map((row) => plain(toJson(this.#table.model, row)));
  }

  #sent(change: RowChange<M>): Sent {
    const { model } = this.#table;
    switch (change.kind) {
      case "insert":
        return { key: change.key, row: plain(toJson(model, change.after)), fields: undefined };
      case "update":
        return { key: change.keyBefore, row: plain(toJson(model, change.after)), fields: change.fields };
      case "delete":
        return { key: change.key, row: undefined, fields: undefined };
    }
  }

  #take(message: Message): void {
    switch (message.kind) {
      case "hello":
        if (this.#table.size > 0)
          this.#send({ kind: "all", to: message.window, stamp: [this.#count, this.#window], rows: this.#rows() });
        return;
      case "all":
        if (message.to !== undefined && message.to !== this.#window) return;
        this.#count = Math.max(this.#count, message.stamp[0]);
        this.#byOthers(() => this.#takeAll(message.rows));
        return this.#answered(true);
      case "changes":
        this.#count = Math.max(this.#count, message.stamp[0]);
        this.#byOthers(() => transaction(() => message.changes.forEach((each) => this.#takeOne(each, message.stamp))));
    }
  }

  /** What comes from another window is not told to it again. */
  #byOthers(work: () => void): void {
    this.#taking = true;
    try {
      work();
    } finally {
      this.#taking = false;
    }
  }

  #takeAll(rows: readonly Readonly<Record<string, unknown>>[]): void {
    this.#stamps.clear();
    this.#table.load(rows.flatMap((json) => this.#read(json) ?? []));
  }

  #read(json: unknown): RowOf<M> | undefined {
    const reading = fromJson(this.#table.model, json);
    if (!reading.ok) return undefined;
    Object.freeze(reading.row);
    return reading.row;
  }

  #takeOne({ key, row: json, fields }: Sent, stamp: Stamp): void {
    const table = this.#table;
    const there = table.get(key as KeyOf<M>);
    if (json === undefined) {
      if (this.#isLater(key, "", stamp) && there !== undefined) this.#apply(key, undefined);
      return this.#stamp(key, [""], stamp);
    }
    const row = this.#read(json);
    if (row === undefined) return;
    if (fields === undefined) {
      if (this.#isLater(key, "", stamp)) this.#apply(key, row);
      return this.#stamp(key, [""], stamp);
    }
    // A row that was deleted here meanwhile stays so.
    if (there === undefined) return;
    const later = fields.filter((name) => this.#isLater(key, name, stamp));
    this.#stamp(key, later, stamp);
    if (later.length > 0) this.#apply(key, merged(table.model, there, row, later));
  }

  #apply(key: unknown, row: RowOf<M> | undefined): void {
    applyStored<AnyModel>(this.#table[internal], [{ key, row }]);
  }

  #isLater(key: unknown, field: string, [count, window]: Stamp): boolean {
    const before = this.#stamps.get(JSON.stringify(key))?.get(field);
    return before === undefined || count > before[0] || (count === before[0] && window > before[1]);
  }

  #stamp(key: unknown, fields: readonly string[], stamp: Stamp): void {
    const text = JSON.stringify(key);
    const own = getOrMake(this.#stamps, text, () => new Map<string, Stamp>());
    for (const field of fields) if (this.#isLater(key, field, stamp)) own.set(field, stamp);
  }

  stop(): void {
    this.#following.stop();
    this.#answered(false);
    this.#channel.close();
  }

  [dispose](): void {
    this.stop();
  }
}

/** Exact decimals and their like as JSON has them: what goes to another window is copied, not shared. */
const plain = (json: Record<string, unknown>): Readonly<Record<string, unknown>> =>
  JSON.parse(JSON.stringify(json)) as Readonly<Record<string, unknown>>;

function merged<M extends AnyModel>(model: M, before: RowOf<M>, after: RowOf<M>, fields: readonly string[]): RowOf<M> {
  return Object.freeze(rowWithFields(model, before, after, fields)) as RowOf<M>;
}
