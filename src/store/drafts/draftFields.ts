import { internal } from "../../engine/index.ts";
import { type EntryState, FieldState, FOLLOWING } from "../../entry/index.ts";
import type { AnyKind } from "../../model/index.ts";
import { editedIn, linkedTables } from "../../rows/index.ts";
import type { TableState } from "../../table/index.ts";
import { valueToJson } from "../text/index.ts";
import { isKept } from "./secrets.ts";

/** What one field held. */
export interface DraftField {
  readonly title: string;
  /** The value as JSON; absent where it was blank. */
  readonly value?: unknown;
  /** What was typed, where it was typed. */
  readonly text?: string;
  /** What it began with, in a row that was edited. */
  readonly base?: unknown;
  /** That it held a file, whose content is not in a draft. */
  readonly file?: true;
  /** Of a field that holds rows: those of them in which something was typed that was not in the row yet. */
  readonly open?: readonly OpenRow[];
}

/** What was typed in a row inside a row. */
interface OpenRow {
  /** Which of the rows it is, counted from 0. */
  readonly place: number;
  readonly fields: DraftFields;
}

/** What was entered and not saved, by the names of the fields: as JSON. */
export type DraftFields = Readonly<Record<string, DraftField>>;

const isObject = (json: unknown): json is object => typeof json === "object" && json !== null && !Array.isArray(json);

/** Whether JSON can be what was entered: a draft may be changed, or torn, on the disk. */
export const isDraftFields = (json: unknown): json is DraftFields =>
  isObject(json) && Object.values(json).every((field) => isObject(field) && isOpen((field as DraftField).open));

const isOpen = (open: unknown): boolean =>
  open === undefined ||
  (Array.isArray(open) && open.every((row) => isObject(row) && isDraftFields((row as OpenRow).fields)));

/** What a person has entered and not saved, rows inside included; followed. `undefined` where that is nothing. Secrets are no part of it. */
export function typedIn(entry: EntryState): DraftFields | undefined {
  const { core } = entry;
  const fields: Record<string, DraftField> = {};
  let count = 0;
  const linked = linkedTables(entry);
  for (const name of core.model.names) {
    if (core.model.isCalculated(name)) continue;
    const field = core.field(name);
    if (!(field instanceof FieldState) || !isKept(field.kind)) continue;
    const table = linked.get(name);
    const open = table === undefined ? [] : openRowsOf(table[internal] as TableState);
    const { held } = field;
    if (open.length === 0 && (held === FOLLOWING || !differs(field))) continue;
    const kept = fieldOf(field, core.isNew ? undefined : core.baseline.entered(name).value);
    fields[name] = open.length === 0 ? kept : { ...kept, open };
    count++;
  }
  return count === 0 ? undefined : fields;
}

/** What is typed in rows that are being edited; followed. */
function openRowsOf(table: TableState): readonly OpenRow[] {
  const edited = editedIn(table).filter((entry) => entry.changed);
  if (edited.length === 0) return [];
  const slots = table.slotsInOrder();
  return edited.flatMap((entry) => {
    const fields = typedIn(entry);
    return fields === undefined ? [] : [{ place: slots.indexOf(entry.slot!), fields }];
  });
}

const differs = (field: FieldState): boolean =>
  field.changed || (field.kind.options.saved === false && field.held.text !== undefined);

function fieldOf(field: FieldState, base: unknown): DraftField {
  const { kind, title, held } = field;
  const { value, text } = held;
  const json = jsonOf(kind, value);
  return {
    title,
    ...(json !== undefined && kind.kind !== "file" && { value: json }),
    ...(kind.kind === "file" && !kind.isBlank(value) && { file: true as const }),
    ...(text !== undefined && { text }),
    ...(base !== undefined && { base: jsonOf(kind, base) }),
  };
}

const jsonOf = (kind: AnyKind, value: unknown): unknown =>
  value === undefined || kind.isBlank(value) ? undefined : valueToJson(kind, value, isKept);
