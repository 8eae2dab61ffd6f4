import type { AnyModel, KeyOf, RowOf } from "../../model/index.ts";
import type { StoreNews, VersionedRow } from "../../store/index.ts";
import { identityOf } from "../polling.ts";
import { logEvents, type LogEvent, type PlacedLine } from "./logEvents.ts";
import { markAt, RowLog } from "./RowLog.ts";

type News<M extends AnyModel> = StoreNews<RowOf<M>, KeyOf<M>>;

/** Reads what is added to a log, for one listener. */
export class LogFollowing<M extends AnyModel> {
  #mark: string;
  #identity: string | undefined;

  constructor(
    private readonly path: string,
    private readonly model: M,
    private readonly locale: string,
    since: string,
  ) {
    this.#mark = since;
  }

  async *look(): AsyncIterable<News<M>> {
    const identity = await identityOf(this.path);
    if (identity === this.#identity) return;
    const upTo = Number(this.#mark.split(".")[0]);
    const isKnown = identity === "" ? this.#mark === "0" : (await markAt(this.path, upTo || 0)) === this.#mark;
    if (!isKnown) {
      yield this.#reload(await this.#endOf(identity));
      this.#identity = identity;
      return;
    }
    if (identity !== "")
      for await (const events of logEvents(this.path, this.model, upTo, 0, this.locale))
        for (const event of events) {
          if (event.kind === "tail") break;
          const mark = await markAt(this.path, event.upTo);
          const changes = changesOf(event);
          this.#mark = mark;
          if (changes === undefined) yield this.#reload(mark);
          // What begins a write that was made compact, or stands alone, has changed nothing.
          else if (changes.changes.length > 0) yield { ...changes, mark };
        }
    this.#identity = identity;
  }

  #reload(mark: string): News<M> {
    this.#mark = mark;
    return { kind: "reload", mark };
  }

  async #endOf(identity: string): Promise<string> {
    if (identity === "") return "0";
    const log = new RowLog(this.model, this.locale, false);
    await log.catchUp(this.path);
    return log.mark;
  }
}

/** What an event changes; `undefined` where that can't be told of it alone. */
function changesOf<M extends AnyModel>(
  event: LogEvent<M>,
):
  | { kind: "changes"; id: string; changes: { key: KeyOf<M>; now: VersionedRow<RowOf<M>, KeyOf<M>> | undefined }[] }
  | undefined {
  let lines: readonly PlacedLine<M>[] = [];
  if (event.kind === "line") lines = [event.line];
  else if (event.kind === "write") lines = event.rows;
  const gone = event.kind === "write" ? event.head.deleted.map((key) => ({ key, now: undefined })) : [];
  const come = [];
  for (const line of lines) {
    if (line.kind === "bad" || line.key === undefined) return undefined;
    come.push({ key: line.key, now: { key: line.key, version: line.version, row: line.row } });
  }
  return { kind: "changes", id: event.kind === "write" ? event.head.id : "", changes: [...gone, ...come] };
}
