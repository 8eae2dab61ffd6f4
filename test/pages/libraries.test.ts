/** The shipped elements of three component libraries: two bind with nothing said, one by adapters of a few lines. */
import { fileURLToPath } from "node:url";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { closeBrowser, eventually, newPage } from "./support.ts";

const species = ["oak", "elm", "ash"];
const each = (make: (value: string) => string): string => species.map(make).join("");

/** The same seven controls in each library. */
const libraries: Readonly<Record<string, string>> = {
  "@material/web": `
    <md-outlined-text-field name="tag" label="Tag"></md-outlined-text-field>
    <md-outlined-text-field name="notes" type="textarea" label="Notes"></md-outlined-text-field>
    <label><md-checkbox name="fenced"></md-checkbox> Fenced</label>
    <label><md-switch name="watered"></md-switch> Watered</label>
    ${each((value) => `<label><md-radio name="species" value="${value}"></md-radio> ${value}</label>`)}
    <md-outlined-select quick name="second" label="Second">${each((value) => `<md-select-option value="${value}"><div slot="headline">${value}</div></md-select-option>`)}</md-outlined-select>
    <md-slider name="exposure" min="0" max="10"></md-slider>`,
  "@fluentui/web-components": `
    <fluent-text-field name="tag">Tag</fluent-text-field>
    <fluent-text-area name="notes">Notes</fluent-text-area>
    <fluent-checkbox name="fenced">Fenced</fluent-checkbox>
    <fluent-switch name="watered">Watered</fluent-switch>
    <fluent-radio-group name="species">${each((value) => `<fluent-radio value="${value}">${value}</fluent-radio>`)}</fluent-radio-group>
    <fluent-select name="second">${each((value) => `<fluent-option value="${value}">${value}</fluent-option>`)}</fluent-select>
    <fluent-slider name="exposure" min="0" max="10"></fluent-slider>`,
  "@shoelace-style/shoelace": `
    <sl-input name="tag" label="Tag"></sl-input>
    <sl-textarea name="notes" label="Notes"></sl-textarea>
    <sl-checkbox name="fenced">Fenced</sl-checkbox>
    <sl-switch name="watered">Watered</sl-switch>
    <sl-radio-group name="species" label="Species">${each((value) => `<sl-radio value="${value}">${value}</sl-radio>`)}</sl-radio-group>
    <sl-select name="second" label="Second">${each((value) => `<sl-option value="${value}">${value}</sl-option>`)}</sl-select>
    <sl-range name="exposure" label="Exposure" min="0" max="10"></sl-range>`,
};

const clickAt = async (page: Page, selector: string): Promise<void> => {
  await page.locator(selector).click();
};

/** What a person does in each library to change each field. */
const acts: Readonly<Record<string, Readonly<Record<string, (page: Page) => Promise<void>>>>> = {
  "@material/web": {
    tag: (page) => page.locator("md-outlined-text-field[name=tag] input").fill("AB-2"),
    notes: (page) => page.locator("md-outlined-text-field[name=notes] textarea").fill("leans"),
    fenced: (page) => clickAt(page, "md-checkbox"),
    watered: (page) => clickAt(page, "md-switch"),
    species: (page) => clickAt(page, "md-radio[value=elm]"),
    second: async (page) => {
      await page.locator("md-outlined-select").click();
      await page.locator("md-select-option[value=ash]").click();
    },
    exposure: async (page) => {
      await page.locator("md-slider input").focus();
      await page.keyboard.press("ArrowRight");
    },
  },
  "@fluentui/web-components": {
    tag: (page) => page.locator("fluent-text-field input").fill("AB-2"),
    notes: (page) => page.locator("fluent-text-area textarea").fill("leans"),
    fenced: (page) => clickAt(page, "fluent-checkbox"),
    watered: (page) => clickAt(page, "fluent-switch"),
    species: (page) => clickAt(page, "fluent-radio[value=elm]"),
    second: async (page) => {
      await page.locator("fluent-select").click();
      await page.locator("fluent-option[value=ash]").click();
    },
    exposure: async (page) => {
      await page.locator("fluent-slider").focus();
      await page.keyboard.press("ArrowRight");
    },
  },
  "@shoelace-style/shoelace": {
    tag: (page) => page.locator("sl-input input").fill("AB-2"),
    notes: (page) => page.locator("sl-textarea textarea").first().fill("leans"),
    fenced: (page) => clickAt(page, "sl-checkbox"),
    watered: (page) => clickAt(page, "sl-switch"),
    species: (page) => clickAt(page, "sl-radio[value=elm]"),
    second: async (page) => {
      await page.locator("sl-select").click();
      await page.locator("sl-option[value=ash]").click();
    },
    exposure: async (page) => {
      await page.locator("sl-range input").focus();
      await page.keyboard.press("ArrowRight");
    },
  },
};

const after = {
  tag: "AB-2",
  notes: "leans",
  fenced: true,
  watered: false,
  species: "elm",
  second: "ash",
  exposure: 4,
};

let page: Page;
let errors: string[];
beforeAll(async () => {
  ({ page, errors } = await newPage());
  await page.setContent('<!doctype html><html lang="en"><title>libraries</title><body></body></html>');
  await page.addScriptTag({
    path: fileURLToPath(new URL("../../.cache/harness/libraries.js", import.meta.url)),
    type: "module",
  });
  await page.waitForFunction(() => "ironwood" in globalThis);
  await page.evaluate(() => {
    // The one library here whose elements say by events of their own that they were changed.
    const { adaptControl } = ironwood;
    type Valued = HTMLElement & { value: unknown; checked: boolean };
    const hears = ["sl-input", "sl-change"];
    for (const tag of ["sl-input", "sl-textarea"])
      adaptControl<Valued>(tag, {
        hears,
        show: (element, { text, focused }) => {
          if (!focused) element.value = text;
        },
        take: (element) => ({ text: String(element.value) }),
      });
    for (const tag of ["sl-checkbox", "sl-switch"])
      adaptControl<Valued>(tag, {
        hears,
        show: (element, { value }) => {
          element.checked = value === true;
        },
        take: (element) => ({ value: element.checked }),
      });
    for (const tag of ["sl-radio-group", "sl-select", "sl-range"])
      adaptControl<Valued>(tag, {
        hears,
        show: (element, { value }) => {
          element.value = value ?? (tag === "sl-range" ? 0 : "");
        },
        take: (element) => ({ value: element.value === "" ? undefined : element.value }),
      });
  });
});
afterAll(closeBrowser);

describe.each(Object.entries(libraries))("%s", (library, markup) => {
  beforeAll(async () => {
    await page.evaluate(async (inside) => {
      (kept["binding"] as { stop(): void } | undefined)?.stop();
      document.body.innerHTML = `<form name="tree">${inside}<button>Save</button></form>`;
      const { bindPage, boolean, integer, model, newEntry, oneOf, text } = ironwood;
      const trees = ["oak", "elm", "ash"] as const;
      const tree = model({
        tag: text({ required: true, default: "AB-1" }),
        notes: text(),
        fenced: boolean(),
        watered: boolean({ default: true }),
        species: oneOf(trees, { default: "oak" }),
        second: oneOf(trees),
        exposure: integer({ minimum: 0, maximum: 10, default: 3 }),
      });
      const entry = newEntry(tree, { locale: "en", save: () => "Saved." });
      kept["entry"] = entry;
      kept["binding"] = bindPage(document, { tree: entry }, { strict: true });
      // The libraries draw in their own time.
      await new Promise((resolve) => setTimeout(resolve, 200));
    }, markup);
  });

  test("shows what the entry begins with", async () => {
    const shown = await page.evaluate(() => {
      const at = (name: string) => [
        ...document.querySelectorAll<HTMLElement & Record<string, unknown>>(`[name=${name}]`),
      ];
      const ticked = (element: Record<string, unknown>) => element["checked"] ?? element["selected"];
      const chosen = at("species").find((element) => ticked(element) === true) ?? at("species")[0]!;
      return {
        tag: at("tag")[0]!["value"],
        fenced: ticked(at("fenced")[0]!),
        watered: ticked(at("watered")[0]!),
        species: chosen["value"],
        exposure: Number(at("exposure")[0]!["value"]),
      };
    });
    expect(shown).toEqual({ tag: "AB-1", fenced: false, watered: true, species: "oak", exposure: 3 });
  });

  test.each(Object.entries(acts[library]!))("takes what a person does to %s", async (name, act) => {
    await act(page);
    const value = (): Promise<unknown> =>
      page.evaluate((field) => (kept["entry"] as { values: Record<string, unknown> }).values[field], name);
    const wanted = after[name as keyof typeof after];
    expect(await eventually(value, wanted)).toEqual(wanted);
  });

  test("shows what code sets, and says what is wrong", async () => {
    const shown = await page.evaluate(async () => {
      (document.activeElement as HTMLElement | null)?.blur();
      const entry = kept["entry"] as { values: Record<string, unknown>; check(): unknown };
      entry.values["fenced"] = false;
      entry.values["species"] = "ash";
      entry.values["tag"] = "";
      entry.check();
      await new Promise((resolve) => setTimeout(resolve, 100));
      const tag = document.querySelector<HTMLElement & { value: string }>("[name=tag]")!;
      const described = document.getElementById(tag.getAttribute("aria-describedby") ?? "");
      return [tag.value, tag.getAttribute("aria-invalid"), described?.textContent];
    });
    expect(shown).toEqual(["", "true", "Enter a value."]);
  });
});

test("none of the libraries reports anything", () => {
  expect(errors).toEqual([]);
});
