/** Every control, in every way: one cell of docs/controls.md for each test. `WRITE_DOCS=1` writes the table. */
import { readFileSync, writeFileSync } from "node:fs";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { type ControlSpec, controlList, definePlainField } from "./controlList.ts";
import { closeBrowser, pageWith } from "./support.ts";

let page: Page;
beforeAll(async () => {
  ({ page } = await pageWith(""));
  await page.evaluate(definePlainField);
});
afterAll(closeBrowser);

/** A fresh form with the one control, bound to an entry that is `kept.entry`. */
async function fresh({ markup, kind }: ControlSpec, options: string): Promise<void> {
  await page.evaluate(`(() => {
    kept.binding?.stop();
    document.body.innerHTML = ${JSON.stringify(`<form name="tree"><button type="button" id="before">before</button>${markup}<input name="next" id="next" aria-label="next"><button>Save</button><button type="reset">Undo</button></form>`)};
    const { model, newEntry, bindPage, Decimal, ${["text", "number", "integer", "decimal", "boolean", "date", "time", "dateTime", "oneOf", "someOf", "file"].join()} } = ironwood;
    const tree = model({ it: ${kind(options)}, next: text(), hidden: boolean({ readOnly: true, saved: false }), locked: boolean({ readOnly: true, saved: false }) })
      .relevant({ it: (t) => !t.hidden }).readOnly({ it: (t) => t.locked });
    kept.entry = newEntry(tree, { locale: "en-US", save: () => {} });
    kept.binding = bindPage(document, { tree: kept.entry }, { strict: true });
    kept.same = (a, b) => a instanceof File ? a?.name === b?.name : JSON.stringify(a) === JSON.stringify(b);
  })()`);
}

const value = (expression: string): Promise<unknown> =>
  page.evaluate(`(() => {
    const all = [...document.querySelectorAll("form [name=it]")];
    const el = all[0];
    const { Decimal } = ironwood;
    return ${expression};
  })()`);
const holds = (wanted: string): Promise<unknown> => value(`kept.same(kept.entry.values.it, ${wanted})`);
/** The focus on the control, as by Tab. */
const focusIt = async (): Promise<void> => {
  await page.locator("#before").focus();
  await page.keyboard.press("Tab");
};
/** Each column: what it tells, and the test; `–` where HTML has no such thing. */
const columns: readonly (readonly [
  name: string,
  check: (spec: ControlSpec) => Promise<void>,
  has?: (spec: ControlSpec) => boolean,
])[] = [
  [
    "shows default",
    async (spec) => {
      await fresh(spec, `{ default: ${spec.standard} }`);
      expect(await value(spec.shown)).toBe(spec.standardShown);
    },
  ],
  [
    "reads",
    async (spec) => {
      await fresh(spec, `{ default: ${spec.standard} }`);
      await spec.act(page);
      await page.locator("#next").focus();
      expect(await holds(spec.other)).toBe(true);
      expect(await value(spec.shown)).toBe(spec.otherShown);
    },
  ],
  [
    "writes",
    async (spec) => {
      await fresh(spec, "{}");
      await value(`void (kept.entry.values.it = ${spec.other})`);
      expect(await value(spec.shown)).toBe(spec.otherShown);
    },
  ],
  [
    "blank",
    async (spec) => {
      await fresh(spec, "{}");
      expect(await value(spec.shown)).toBe(spec.blankShown);
      await value(`void (kept.entry.values.it = ${spec.standard})`);
      await value("void (kept.entry.fields.it.revert())");
      expect(await value(spec.shown)).toBe(spec.blankShown);
      expect(await value("kept.entry.fields.it.changed")).toBe(false);
    },
  ],
  [
    "unreadable",
    async (spec) => {
      await fresh(spec, `{ default: ${spec.standard} }`);
      await page.locator("[name=it]").fill(spec.unreadable!);
      await page.locator("#next").focus();
      expect(await value("el.value")).toBe(spec.unreadable);
      expect(await value("kept.entry.values.it")).toBeUndefined();
      expect(await value("el.getAttribute('aria-invalid')")).toBe("true");
    },
    (spec) => spec.unreadable !== undefined,
  ],
  [
    "disabled",
    async (spec) => {
      await fresh(spec, `{ default: ${spec.standard} }`);
      await value("void (kept.entry.values.hidden = true)");
      expect(await value("all.every((each) => each.disabled && each.hidden)")).toBe(true);
      await value("void (kept.entry.values.hidden = false)");
      expect(await value("all.some((each) => each.disabled || each.hidden)")).toBe(false);
      expect(await value(spec.shown)).toBe(spec.standardShown);
    },
  ],
  [
    "read-only",
    async (spec) => {
      await fresh(spec, `{ default: ${spec.standard} }`);
      await value("void (kept.entry.values.locked = true)");
      expect(await value(spec.readOnly)).toBe(true);
      await focusIt();
      expect(await value("document.activeElement?.getAttribute('name')")).toBe("it");
      if (spec.control !== "picked file" && spec.control !== "colour control") await spec.keys(page);
      expect(await holds(spec.standard)).toBe(true);
      expect(await value(spec.shown)).toBe(spec.standardShown);
    },
  ],
  [
    "required",
    async (spec) => {
      await fresh(spec, "{ required: true }");
      if (spec.required !== undefined) expect(await value(spec.required)).toBe(true);
      if (spec.control !== "toggle button") {
        await page.getByRole("button", { name: "Save" }).click();
        expect(await value("kept.entry.visibleProblems[0]?.code")).toBe("valueMissing");
      }
    },
  ],
  [
    "reset",
    async (spec) => {
      await fresh(spec, `{ default: ${spec.standard} }`);
      await spec.act(page);
      await page.getByRole("button", { name: "Undo" }).click();
      expect(await value(spec.shown)).toBe(spec.standardShown);
      expect(await value("kept.entry.changed")).toBe(false);
    },
  ],
  [
    "problem announced",
    async (spec) => {
      await fresh(spec, "{ required: true }");
      await page.getByRole("button", { name: "Save" }).click();
      const described = await value(
        "all.map((each) => each.getAttribute('aria-invalid') === 'true' && document.getElementById(each.getAttribute('aria-describedby'))?.textContent)",
      );
      for (const text of described as string[]) expect(text).toMatch(/^(Enter a value|Choose one|Answer this)/);
      // The first wrong control has the focus.
      expect(await value("document.activeElement?.getAttribute('name')")).toBe("it");
    },
  ],
  [
    "keyboard",
    async (spec) => {
      await fresh(spec, `{ default: ${spec.standard} }`);
      await focusIt();
      await spec.keys(page);
      await page.locator("#next").focus();
      expect(await holds(spec.other)).toBe(true);
    },
  ],
];

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
