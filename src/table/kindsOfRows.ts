import { internal } from "../engine/index.ts";
import type { Table } from "./Table.ts";
import { TableState } from "./TableState.ts";
import type { View } from "./View.ts";
import { ViewState } from "./ViewState.ts";

const stateOf = (thing: unknown): unknown =>
  typeof thing === "object" && thing !== null && internal in thing ? thing[internal] : undefined;

export const isTable = (thing: unknown): thing is Table => stateOf(thing) instanceof TableState;

export const isView = (thing: unknown): thing is View => stateOf(thing) instanceof ViewState;
