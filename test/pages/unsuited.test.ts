/** Controls that do not suit their fields: told to the builder, and still no fault of the page when a person uses them. */
import { afterAll, expect, test } from "@jest/globals";
import type { AnyKind } from "../../src/model/index.ts";
import { closeBrowser, pageWith } from "./support.ts";

afterAll(closeBrowser);

const kinds = [
  ...["text()", "number()", "integer({ minimum: 1, maximum: 9 })", "decimal()", "boolean()", "date()", "time()"],
  ...["dateTime()", "instant()", 'oneOf(["a", "b"])', 'someOf(["a", "b"])', "list(text())", "file()"],
];
const inputs = ["checkbox", "radio", "range", "color", "number", "date", "time", "datetime-local", "month", "week"];
const controls = [
  ...["text", "search", "file", ...inputs].map((type) => `<input type="${type}" name="it">`),
  ...["checkbox", "radio"].map((type) => `<input type="${type}" name="it" value="a">`),
  // What a browser has brought back, differing from what the page says.
  ...inputs.map((type) => `<input type="${type}" name="it" class="back">`),
  '<textarea name="it"></textarea>',
  '<select name="it"><option value="">-<option>a<option>c</select>',
  '<select name="it" multiple><option>a<option>c</select>',
  '<button type="button" name="it" value="a">A</button>',
  '<button type="button" name="it">It</button>',
  "<plain-box name=it></plain-box>",
];

test(`${controls.length} controls on ${kinds.length} kinds of field: shown, entered, cleared and stopped without an uncaught error`, async () => {
  const { page } = await pageWith("");
  await page.evaluate(`kept.kinds = (({ ${kinds.map((kind) => /^\w+/.exec(kind)![0]).join()} }) => ({
    ${kinds.map((kind) => `${JSON.stringify(kind)}: ${kind}`).join()} }))(ironwood)`);
  const { failures, reports } = await page.evaluate(async (controls) => {
    const failures: string[] = [];
    let reports = 0;
    let now = "";
    // What the library reports of the page is no fault of it.
    addEventListener("error", (event) => {
      event.preventDefault();
      if (/The page (does not agree|has no place)/.test(event.message)) reports++;
      else failures.push(`${now}: ${event.message}`);
    });
    customElements.define("plain-box", class extends HTMLElement {});
    const usual = {
      ...{ color: "#123456", date: "2026-05-01", month: "2026-05", range: "7", week: "2026-W18", time: "08:00" },
      ...{ "datetime-local": "2026-05-01T08:00", number: "3", checkbox: "a", radio: "a", file: "" },
    };
    const valueFor = (type: string): string => (usual as Record<string, string>)[type] ?? "a";
    for (const [name, kind] of Object.entries(kept["kinds"] as Record<string, AnyKind>))
      for (const markup of controls) {
        now = `${markup} for ${name}`;
        document.body.innerHTML = `<form name="card"><label>It ${markup}</label></form>`;
        const control = document.querySelector<HTMLInputElement>("[name=it]")!;
        if (control.className === "back") control.value = valueFor(control.type);
        try {
          const entry = ironwood.newEntry(ironwood.model({ it: kind }), { locale: "en" });
          const binding = ironwood.bindPage(document, { card: entry });
          for (const type of ["input", "change"]) {
            if (control.localName !== "button") control.value = valueFor(control.type);
            control.dispatchEvent(new Event(type, { bubbles: true }));
          }
          control.click();
          for (const key of ["Delete", "ArrowDown", "Escape"])
            control.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true, cancelable: true }));
          await entry.save();
          binding.stop();
        } catch (error) {
          failures.push(`${now}: ${String(error)}`);
        }
      }
    return { failures, reports };
  }, controls);
  expect(failures).toEqual([]);
  expect(reports).toBeGreaterThan(100);
}, 120_000);
