/** What is bound, stopped and bound again: nothing of the one row is in the next, and the page is what it was. */
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

const frame = (markup: string): string =>
  `<form name="tree" aria-busy="true"><button type="button" id="before">before</button>${markup}
    <div role="alert" hidden>Nothing</div><output name="length">no length</output><meter name="share" max="9"></meter>
    <input name="double" type="number"><button aria-busy="false">Save</button></form><p role="status">Ready</p>`;

/** A page with the one control that nothing has bound, and what the tests ask of it under `kept`. */
async function plainPage({ markup, kind, shown, standard, other }: ControlSpec): Promise<void> {
  await page.evaluate(`(() => {
    kept.binding?.stop();
    document.body.innerHTML = ${JSON.stringify(frame(markup))};
    const { model, newEntry, bindPage, Decimal, text, number, integer, decimal, boolean, date, time, dateTime, oneOf, someOf, file } = ironwood;
    const flag = () => boolean({ readOnly: true, saved: false });
    const tree = model({ it: ${kind("{ required: true }")}, hidden: flag(), locked: flag() })
      .relevant({ it: (t) => !t.hidden })
      .readOnly({ it: (t) => t.locked })
      .calculated({ length: (t) => String(t.it).length, share: () => 3, double: () => 1.5 });
    const all = () => [...document.querySelectorAll("form [name=it]")];
    Object.assign(kept, {
      newEntry: (it) => newEntry(tree, { locale: "en-US", values: it === undefined ? {} : { it }, save: () => {} }),
      bind: (entry) => Object.assign(kept, { entry, binding: bindPage(document, { tree: entry }) }),
      shown: () => ((all, el) => ${shown})(all(), all()[0]),
      state: () => document.body.innerHTML + JSON.stringify(all().map((each) => [
        each.value, each.checked, each.indeterminate, [...(each.selectedOptions ?? [])].map(({ value }) => value), each.validationMessage,
      ])),
      standard: () => (${standard}),
      other: () => (${other}),
    });
  })()`);
}

const evaluate = (code: string): Promise<unknown> => page.evaluate(code);

/** What may have happened to a control before it is stopped. */
const happenings: readonly (readonly [what: string, happen: (spec: ControlSpec) => Promise<unknown>])[] = [
  ["nothing", () => Promise.resolve()],
  [
    "a person has changed it",
    async (spec) => {
      await spec.act(page);
      await page.locator("#before").focus();
    },
  ],
  ["its problem is shown", () => evaluate("kept.entry.save().then(() => {})")],
  ["it is not relevant", () => evaluate("void (kept.entry.values.hidden = true)")],
  ["it is read-only", () => evaluate("void (kept.entry.values.locked = true)")],
];

describe.each(controlList.map((spec) => [spec.control, spec] as const))("%s", (_, spec) => {
  test.each(happenings)(
    "stopped after %s, the page is what it was, and the next row is not touched",
    async (__, happen) => {
      await plainPage(spec);
      const before = await evaluate("kept.state()");
      await evaluate("void kept.bind(kept.newEntry(kept.standard()))");
      expect(await evaluate("kept.shown()")).toEqual(spec.standardShown);
      await happen(spec);
      await evaluate("kept.binding.stop()");
      expect(await evaluate("kept.state()")).toBe(before);
      // Another row, a blank one, and the first again.
      await evaluate("void kept.bind(kept.newEntry(kept.other()))");
      expect(await evaluate("[kept.shown(), kept.entry.changed]")).toEqual([spec.otherShown, false]);
      await evaluate("kept.binding.stop()");
      await evaluate("void kept.bind(kept.newEntry())");
      expect(await evaluate("[kept.shown(), kept.entry.changed]")).toEqual([spec.blankShown, false]);
      await evaluate("kept.binding.stop()");
      await evaluate("void kept.bind(kept.newEntry(kept.standard()))");
      expect(await evaluate("[kept.shown(), kept.entry.changed]")).toEqual([spec.standardShown, false]);
      await evaluate("kept.binding.stop()");
      expect(await evaluate("kept.state()")).toBe(before);
    },
  );
});
