/** What every control is tried for: one column of docs/controls.md each. */
import { expect } from "@jest/globals";
import type { Page } from "playwright-core";
import type { ControlSpec } from "./controlList.ts";

/** Each column: what it tells, and the test; `–` where HTML has no such thing. */
export type ControlColumn = readonly [
  name: string,
  check: (spec: ControlSpec) => Promise<void>,
  has?: (spec: ControlSpec) => boolean,
];

/** @param pageOf - the page, in any engine, in which the library is loaded */
export function controlColumns(pageOf: () => Page): readonly ControlColumn[] {
  /** A fresh form with the one control, bound to an entry that is `kept.entry`. */
  async function fresh({ markup, kind }: ControlSpec, options: string): Promise<void> {
    await pageOf().evaluate(`(() => {
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
    pageOf().evaluate(`(() => {
      const all = [...document.querySelectorAll("form [name=it]")];
      const el = all[0];
      const { Decimal } = ironwood;
      return ${expression};
    })()`);
  const holds = (wanted: string): Promise<unknown> => value(`kept.same(kept.entry.values.it, ${wanted})`);
  /** The focus on the control, as by Tab. */
  const focusIt = async (): Promise<void> => {
    await pageOf().locator("#before").focus();
    await pageOf().keyboard.press("Tab");
  };
  return [
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
        await spec.act(pageOf());
        await pageOf().locator("#next").focus();
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
        await pageOf().locator("[name=it]").fill(spec.unreadable!);
        await pageOf().locator("#next").focus();
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
        if (spec.control !== "picked file" && spec.control !== "colour control") await spec.keys(pageOf());
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
          await pageOf().getByRole("button", { name: "Save" }).click();
          expect(await value("kept.entry.visibleProblems[0]?.code")).toBe("valueMissing");
        }
      },
    ],
    [
      "reset",
      async (spec) => {
        await fresh(spec, `{ default: ${spec.standard} }`);
        await spec.act(pageOf());
        await pageOf().getByRole("button", { name: "Undo" }).click();
        expect(await value(spec.shown)).toBe(spec.standardShown);
        expect(await value("kept.entry.changed")).toBe(false);
      },
    ],
    [
      "problem announced",
      async (spec) => {
        await fresh(spec, "{ required: true }");
        await pageOf().getByRole("button", { name: "Save" }).click();
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
        await spec.keys(pageOf());
        await pageOf().locator("#next").focus();
        expect(await holds(spec.other)).toBe(true);
      },
    ],
  ];
}
