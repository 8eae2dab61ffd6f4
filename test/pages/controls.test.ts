/** Every control, in every way: one cell of docs/controls.md for each test. `WRITE_DOCS=1` writes the table. */
import { readFileSync, writeFileSync } from "node:fs";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { controlColumns } from "./controlColumns.ts";
import { controlList, definePlainField } from "./controlList.ts";
import { closeBrowser, pageWith } from "./support.ts";

let page: Page;
beforeAll(async () => {
  ({ page } = await pageWith(""));
  await page.evaluate(definePlainField);
});
afterAll(closeBrowser);

const columns = controlColumns(() => page);

const passed = new Map<string, Set<string>>();

describe.each(controlList.map((spec) => [spec.control, spec] as const))("%s", (control, spec) => {
  const own = columns.filter(([, , has]) => has?.(spec) !== false);
  test.each(own.map(([name, check]) => [name, check] as const))("%s", async (name, check) => {
    await check(spec);
    passed.set(control, (passed.get(control) ?? new Set()).add(name));
  });
});

test("docs/controls.md is what these tests show", () => {
  const names = columns.map(([name]) => name);
  const rows = controlList.map(
    (spec) =>
      `| ${spec.control} | ${columns.map(([name, , has]) => (has?.(spec) === false ? "–" : passed.get(spec.control)?.has(name) === true ? "✓" : "✗")).join(" | ")} |`,
  );
  const table = [`| control | ${names.join(" | ")} |`, `|---|${names.map(() => ":-:|").join("")}`, ...rows].join("\n");
  const path = new URL("../../docs/controls.md", import.meta.url);
  const before = readFileSync(path, "utf8");
  const parts = /^([\s\S]*<!-- table -->\n)[\s\S]*(\n<!-- \/table -->[\s\S]*)$/.exec(before)!;
  const now = `${parts[1]}\n${table}\n${parts[2]}`;
  if (process.env["WRITE_DOCS"] === "1") writeFileSync(path, now);
  else expect(before).toBe(now);
});
