import type { KindName } from "../model/index.ts";
import type { ControlSort } from "./facts.ts";

/** The controls that suit each kind of value. */
export const suiting: Readonly<Record<KindName, readonly ControlSort[]>> = {
  text: ["text", "color", "month", "select", "custom"],
  number: ["text", "number", "range", "custom"],
  decimal: ["text", "number", "custom"],
  integer: ["text", "number", "range", "custom"],
  date: ["text", "date", "custom"],
  time: ["text", "time", "custom"],
  dateTime: ["text", "dateTime", "custom"],
  instant: ["text", "dateTime", "custom"],
  boolean: ["checkBox", "radio", "select", "toggle", "custom"],
  oneOf: ["radio", "select", "text", "number", "checkBox", "toggle", "custom"],
  someOf: ["checkBox", "selectMultiple", "toggle", "custom"],
  list: ["text", "custom"],
  file: ["file"],
  group: [],
  rows: [],
};

/** Whether a control of some sort can show a field of some kind. An output can show any. */
export const suits = (sort: ControlSort, kind: KindName): boolean =>
  sort === "output" || sort === "hidden" || suiting[kind].includes(sort);
