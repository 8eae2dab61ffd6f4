import { IronwoodError } from "../errors/index.ts";
import type { Cell } from "./columns.ts";

/** The part of the driver's statements that is used. */
export interface Statement {
  /** Cells as one list: bytes that are given alone would be taken for an object with names. */
  run(cells?: readonly Cell[]): {
    readonly changes: number;
    readonly lastInsertRowid: number | bigint;
  };
  get(cells?: readonly Cell[]): unknown;
  all(cells?: readonly Cell[]): unknown[];
  raw(): Statement;
}

/** The part of the driver's connections that is used. */
export interface Connection {
  prepare(sql: string): Statement;
  exec(sql: string): void;
  close(): void;
}

type Driver = new (path: string) => Connection;

let loading: Promise<Driver> | undefined;

/** The driver, which only programs that keep rows in SQLite need to install. @throws `badPlace` with the command that installs it */
export function loadDriver(): Promise<Driver> {
  loading ??= import("libsql").then(
    (module) => module.default as unknown as Driver,
    (error: unknown) => {
      loading = undefined;
      if ((error as { readonly code?: unknown }).code !== "ERR_MODULE_NOT_FOUND") throw error;
      throw new IronwoodError("badPlace", "SQLite has no driver here", { expected: "one: npm install libsql" });
    },
  );
  return loading;
}
