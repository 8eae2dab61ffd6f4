import type { AnyModel, Problem } from "../../model/index.ts";
import { StoreError } from "../../store/index.ts";
import { HIDDEN_KEY } from "../hiddenKey.ts";
import type { KeyedRow } from "../../store/changes/index.ts";
import { fromJson, notReadAsBefore, olderRow, toJson } from "../../store/text/index.ts";
import { type Edits, type FileContent, type FileFormat, type FileRow, spliced, strange } from "./FileContent.ts";
import { jsonItems } from "./jsonItems.ts";

/** Rows as a list of JSON (RFC 8259): members that the model does not know stay, and so does how the other rows are written. */
export const jsonFormat = <M extends AnyModel>(path: string, model: M): FileFormat<M> => ({
  parse: (text) => new JsonContent(path, model, text),
  unfit: () => [],
});

interface Item {
  readonly from: number;
  readonly to: number;
  /** Members that were read as those of an older model: they are not written again. */
  readonly covered?: ReadonlySet<string> | undefined;
  /** Whether it has members that are no fields. */
  readonly hasStrangers?: boolean;
}

class JsonContent<M extends AnyModel> implements FileContent<M> {
  readonly rows: (FileRow<M> & Item)[] = [];
  readonly others: { readonly line: number; readonly problems: readonly Problem[] }[] = [];
  readonly #model: M;
  readonly #text: string;
  readonly #items: readonly Item[];
  /** Where the list ends: its bracket. */
  readonly #end: number;

  constructor(path: string, model: M, text: string) {
    this.#model = model;
    this.#text = text.trim() === "" ? "[]\n" : text;
    const { items, end } = this.#list(path);
    this.#items = items;
    this.#end = end;
    const told = new Set<string>();
    let line = 1;
    let counted = 0;
    for (const { from, to } of items) {
      for (let at = this.#text.indexOf("\n", counted); at >= 0 && at < from; at = this.#text.indexOf("\n", at + 1)) {
        line++;
        counted = at + 1;
      }
      const json = JSON.parse(this.#text.slice(from, to)) as Record<string, unknown>;
      const older = this.#olderOf(json);
      const strangers = this.#strangersIn(json);
      for (const name of strangers) {
        if (told.has(name) || older?.covered.has(name) === true) continue;
        told.add(name);
        this.others.push({ line, problems: [strange(`"${name}" is no field: it is not read, and stays as it is.`)] });
      }
      const reading = fromJson(model, this.#ownOf(older?.json ?? json));
      if (older?.failure !== undefined) this.others.push({ line, problems: [notReadAsBefore(older.failure)] });
      else if (reading.ok) {
        const hiddenKey = json[HIDDEN_KEY] as string | undefined;
        const hasStrangers = strangers.length > 0;
        this.rows.push({ row: reading.row, line, hiddenKey, from, to, covered: older?.covered, hasStrangers });
      } else this.others.push({ line, problems: reading.problems });
    }
  }

  #list(path: string): { items: readonly Item[]; end: number } {
    const refuse = (reason: string): StoreError =>
      new StoreError("refused", `The file ${path} can't be read: ${reason}. It was left as it is.`);
    try {
      const json = JSON.parse(this.#text.replace(/^\uFEFF/, "")) as unknown;
      if (!Array.isArray(json)) throw refuse("it holds no list of rows");
    } catch (error) {
      throw error instanceof StoreError ? error : refuse(`it is not JSON (${(error as Error).message})`);
    }
    return jsonItems(this.#text);
  }

  #isOwn(name: string): boolean {
    return name === HIDDEN_KEY || this.#model.kindOf(name) !== undefined || this.#model.groups.has(name);
  }

  #strangersIn(json: unknown): string[] {
    if (typeof json !== "object" || json === null || Array.isArray(json)) return [];
    return Object.keys(json).filter((name) => !this.#isOwn(name));
  }

  /** Members that are no fields, to the letter: a number may have more digits than can be read. */
  #strangersAt({ from, to, covered }: Item): string[] {
    const text = this.#text.slice(from, to);
    const members = jsonItems(text).items.map((member) => text.slice(member.from, member.to));
    return members.filter((member) => {
      const name = JSON.parse(/^"(?:[^"\\]|\\.)*"/.exec(member)![0]) as string;
      return !this.#isOwn(name) && covered?.has(name) !== true;
    });
  }

  /** A row as an older model may have written it; nothing where no older one is known. */
  #olderOf(json: unknown): ReturnType<typeof olderRow> | undefined {
    const isRow = typeof json === "object" && json !== null && !Array.isArray(json);
    if (!isRow || this.#model.parts.formerly.length === 0) return undefined;
    const own = Object.entries(json).filter(([name]) => name !== HIDDEN_KEY);
    return olderRow(this.#model, Object.fromEntries(own));
  }

  #ownOf(json: unknown): unknown {
    if (typeof json !== "object" || json === null || Array.isArray(json)) return json;
    const isAll = Object.keys(json).every((name) => name !== HIDDEN_KEY && this.#isOwn(name));
    if (isAll) return json;
    return Object.fromEntries(Object.entries(json).filter(([name]) => name !== HIDDEN_KEY && this.#isOwn(name)));
  }

  edit({ changed, added, hiddenKeys }: Edits<M>): string {
    const indent = this.#indent();
    const written = ({ row, key }: KeyedRow<M>, before?: Item): string => {
      const hidden = hiddenKeys === undefined ? {} : { [HIDDEN_KEY]: key };
      const own = Object.entries({ ...toJson(this.#model, row), ...hidden }).map(([name, value]) =>
        indent === undefined
          ? `${JSON.stringify(name)}:${JSON.stringify(value)}`
          : `${JSON.stringify(name)}: ${JSON.stringify(value, null, indent).replaceAll("\n", `\n${indent}${indent}`)}`,
      );
      const members = [...own, ...(before?.hasStrangers === true ? this.#strangersAt(before) : [])];
      if (indent === undefined || members.length === 0) return `{${members.join(",")}}`;
      return `{${members.map((each) => `\n${indent}${indent}${each}`).join(",")}\n${indent}}`;
    };
    const byItem = new Map(this.rows.map((row, index) => [row.from, index]));
    const kept: string[] = [];
    const parts = this.#items.map(({ from, to }, number) => {
      const index = byItem.get(from);
      const row = index === undefined ? undefined : this.rows[index]!;
      // What stands between two rows goes with the first of them.
      const next = this.#items[number + 1]?.from ?? to;
      if (row === undefined || index === undefined) {
        kept.push(this.#text.slice(from, to));
        return { from, to, by: this.#text.slice(from, to) };
      }
      if (changed.has(index)) {
        const now = changed.get(index);
        if (now === undefined) return { from, to: next, by: "" };
        const by = written(now, row);
        kept.push(by);
        return { from, to, by };
      }
      const needsKey = hiddenKeys !== undefined && row.hiddenKey === undefined;
      const by = needsKey ? written({ row: row.row, key: hiddenKeys[index]! }, row) : this.#text.slice(from, to);
      kept.push(by);
      return { from, to, by };
    });
    return this.#joined(
      spliced(this.#text, parts),
      kept.length,
      added.map((each) => written(each)),
      indent,
    );
  }

  /** How rows are set in, where each has lines of its own; `undefined` where they have not. */
  #indent(): string | undefined {
    const [first] = this.#items;
    if (first === undefined) return "  ";
    return /\n([ \t]*)$/.exec(this.#text.slice(0, first.from))?.[1];
  }

  /** Puts rows behind the others, and takes off the comma that a last row has left which went. */
  #joined(text: string, count: number, added: readonly string[], indent: string | undefined): string {
    const tail = this.#text.slice(this.#end);
    const rows = text.slice(0, text.length - tail.length).trimEnd();
    const head = rows.endsWith(",") ? rows.slice(0, -1) : rows;
    const between = indent === undefined ? "" : `\n${indent}`;
    const begin = added.length > 0 && count > 0 ? `${head},` : head;
    const end = indent === undefined || count + added.length === 0 ? "" : "\n";
    return begin + added.map((each) => between + each).join(",") + end + tail;
  }
}
