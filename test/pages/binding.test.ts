import { afterAll, describe, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import {
  accessibilityViolations,
  closeBrowser,
  eventually,
  harnessScript,
  newPage,
  pageWith,
  type WatchedPage,
} from "./support.ts";

afterAll(closeBrowser);

const form = (inside: string): string =>
  `<form name="card">${inside}<button type="submit">Save</button><button type="reset">Undo</button></form>`;
const radios = [1, 2, 3]
  .map((value) => `<label><input type="radio" name="condition" value="${value}"> ${value}</label>`)
  .join("");
const boxes = ["leaning", "cavity"]
  .map((value) => `<label><input type="checkbox" name="hazards" value="${value}"> ${value}</label>`)
  .join("");
const controls = `
  <label>Tag <input name="tag" id="tag"></label>
  <label>Species <select name="species" id="species"></select></label>
  <fieldset><legend>Condition</legend>${radios}</fieldset>
  <fieldset><legend>Hazards</legend>${boxes}</fieldset>
  <label>Girth <input name="girth" id="girth" type="number"></label>
  <label>Stems <input name="stems" id="stems" type="number"></label>
  <label>Exposure <input name="exposure" id="exposure" type="range"></label>
  <label><input type="checkbox" name="fenced" id="fenced"> Fenced</label>
  <label>Notes <textarea name="notes" id="notes"></textarea></label>
  <output name="diameter" id="diameter">not known yet</output><p role="status"></p>`;

/** The form of all kinds of controls, bound to an entry that the test finds as `kept.card`. */
async function bound(inside = controls, before?: (page: Page) => Promise<void>): Promise<WatchedPage> {
  const watched = await pageWith(form(inside));
  await before?.(watched.page);
  await watched.page.evaluate(() => {
    const { bindPage, boolean, integer, model, newEntry, number, oneOf, someOf, text } = ironwood;
    const tree = model(
      {
        tag: text({ required: true }),
        species: oneOf(["Quercus robur", "Tilia cordata"], { required: true }),
        condition: oneOf([1, 2, 3]),
        hazards: someOf(["leaning", "cavity"]),
        girth: number({ required: true, unit: "centimeter", minimum: 0, display: { maximumFractionDigits: 1 } }),
        stems: integer({ minimum: 1, maximum: 5, default: 1 }),
        exposure: integer({ minimum: 0, maximum: 10 }),
        fenced: boolean(),
        notes: text(),
      },
      { key: "tag" },
    ).calculated({ diameter: (t) => t.girth / Math.PI });
    const card = newEntry(tree, { save: () => "Saved." });
    Object.assign(kept, { card, binding: bindPage(document, { card }) });
  });
  return watched;
}

type Values = Record<string, unknown>;
const values = (page: Page): Promise<Values> =>
  page.evaluate(() => ({ ...(kept["card"] as { values: Values }).values }));
const set = (page: Page, given: Values): Promise<void> =>
  page.evaluate((some) => void Object.assign((kept["card"] as { values: Values }).values, some), given);

describe("each control shows its field, and a person changes the field by it", () => {
  test("defaults and blanks show from the first moment", async () => {
    const { page, errors } = await bound();
    expect(await page.locator("#stems").inputValue()).toBe("1");
    expect(await page.locator("#species").inputValue()).toBe("");
    expect(await page.locator("input:checked").count()).toBe(0);
    expect(await page.locator("#exposure").getAttribute("aria-valuetext")).toBe("not set");
    expect(await page.getByText("not set", { exact: true }).isVisible()).toBe(true);
    expect(await page.locator("#diameter").innerText()).toBe("not known yet");
    expect(errors).toEqual([]);
  });

  test("text, with line breaks", async () => {
    const { page } = await bound();
    await page.fill("#notes", "by the gate\nby the well");
    expect((await values(page))["notes"]).toBe("by the gate\nby the well");
    await set(page, { notes: "elsewhere" });
    await page.locator("#tag").focus();
    expect(await page.locator("#notes").inputValue()).toBe("elsewhere");
  });

  test("a number field that the page calls type=number keeps what can't be read, and is a spinner", async () => {
    const { page } = await bound();
    const girth = page.getByRole("spinbutton", { name: "Girth" });
    await girth.pressSequentially("12abc");
    expect(await girth.inputValue()).toBe("12abc");
    expect((await values(page))["girth"]).toBeUndefined();
    const stems = page.getByRole("spinbutton", { name: "Stems" });
    await stems.press("ArrowUp");
    await stems.press("ArrowUp");
    expect([
      (await values(page))["stems"],
      await stems.inputValue(),
      await stems.getAttribute("aria-valuenow"),
    ]).toEqual([3, "3", "3"]);
    await stems.press("PageUp");
    expect((await values(page))["stems"]).toBe(5);
    await stems.press("ArrowUp");
    expect((await values(page))["stems"]).toBe(5);
  });

  test("a slider says that it is not set until it is, and can be blanked again", async () => {
    const { page } = await bound();
    const slider = page.locator("#exposure");
    await slider.focus();
    await page.keyboard.press("ArrowRight");
    expect((await values(page))["exposure"]).toBe(1);
    expect(await page.getByText("not set", { exact: true }).isVisible()).toBe(false);
    await page.keyboard.press("Delete");
    expect([(await values(page))["exposure"], await slider.getAttribute("aria-valuetext")]).toEqual([
      undefined,
      "not set",
    ]);
    await page.keyboard.press("Home");
    expect((await values(page))["exposure"]).toBe(0);
  });

  test("check box and set of check boxes", async () => {
    const { page } = await bound();
    await page.getByLabel("Fenced").check();
    await page.getByLabel("cavity").check();
    await page.getByLabel("leaning").check();
    expect(await values(page)).toMatchObject({ fenced: true, hazards: ["leaning", "cavity"] });
    await page.getByLabel("leaning").uncheck();
    expect((await values(page))["hazards"]).toEqual(["cavity"]);
    await set(page, { fenced: false, hazards: ["leaning"] });
    expect(
      await page
        .locator("input[type=checkbox]:checked")
        .evaluateAll((all) => all.map((each) => (each as HTMLInputElement).value)),
    ).toEqual(["leaning"]);
  });

  test("radio buttons are exclusive, and an optional choice can be taken back by pointer and by key", async () => {
    const { page } = await bound();
    const [first, second] = [page.getByLabel("1", { exact: true }), page.getByLabel("2", { exact: true })];
    await first.check();
    await second.check();
    expect([(await values(page))["condition"], await first.isChecked()]).toEqual([2, false]);
    await second.click();
    expect([(await values(page))["condition"], await second.isChecked()]).toEqual([undefined, false]);
    await second.press("Space");
    expect((await values(page))["condition"]).toBe(2);
    await second.press("Space");
    expect((await values(page))["condition"]).toBeUndefined();
  });

  test("a select: nothing chosen is shown as nothing, a value outside the choices is kept, shown and marked", async () => {
    const { page } = await bound();
    const select = page.getByLabel("Species");
    expect(await select.locator("option").allInnerTexts()).toEqual(["", "Quercus robur", "Tilia cordata"]);
    await select.selectOption("Tilia cordata");
    expect((await values(page))["species"]).toBe("Tilia cordata");
    await set(page, { species: "Ulmus glabra" });
    expect(
      await select.evaluate((element: HTMLSelectElement) => [element.value, element.selectedOptions[0]!.disabled]),
    ).toEqual(["Ulmus glabra", true]);
    await page.getByRole("button", { name: "Save" }).click();
    await page.waitForSelector("[data-problem=notAChoice]");
    expect(await page.locator("[data-problem=notAChoice]").innerText()).toBe("Ulmus glabra is not one of the choices.");
    await select.selectOption("Quercus robur");
    expect(await select.locator("option").allInnerTexts()).toEqual(["", "Quercus robur", "Tilia cordata"]);
    expect(await page.locator("[data-problem=notAChoice]").count()).toBe(0);
  });

  test("dates and times, by the platform's control and by text in the reader's notation", async () => {
    const { page, errors } = await pageWith(
      form(`<label>Planted <input name="planted" type="date" id="planted"></label><label>Felled <input name="felled" id="felled"></label>
        <label>Watered <input name="watered" type="time" id="watered"></label><label>Surveyed <input name="surveyed" type="datetime-local" id="surveyed"></label><p role="status"></p>`),
    );
    await page.evaluate(() => {
      const { bindPage, date, dateTime, model, newEntry, time } = ironwood;
      const tree = model({
        planted: date({ minimum: "1990-01-01" }),
        felled: date(),
        watered: time({ default: "07:00" }),
        surveyed: dateTime(),
      });
      const card = newEntry(tree, { locale: "de", save: () => "Saved." });
      kept["card"] = card;
      bindPage(document, { card });
    });
    expect(await page.locator("#watered").inputValue()).toBe("07:00");
    await page.fill("#planted", "1989-12-31");
    await page.fill("#surveyed", "2026-11-23T14:30");
    await page.fill("#felled", "23.11.26");
    await page.press("#felled", "Tab");
    expect(await values(page)).toEqual({
      planted: "1989-12-31",
      felled: "2026-11-23",
      watered: "07:00",
      surveyed: "2026-11-23T14:30",
    });
    expect(await page.locator("#felled").inputValue()).toBe("23.11.2026");
    expect(await page.locator("[data-problem=rangeUnderflow]").innerText()).toBe("Enter 01.01.1990 or later.");
    await page.fill("#felled", "31.2.2026");
    await page.press("#felled", "Tab");
    expect(await page.locator("[data-problem=badInput]").innerText()).toBe(
      "This is not a date that exists. Enter a date, such as 23.11.2026.",
    );
    expect([await page.locator("#felled").inputValue(), (await values(page))["felled"]]).toEqual([
      "31.2.2026",
      undefined,
    ]);
    await set(page, { planted: "2000-02-29", watered: "18:45:30" });
    await page.locator("#planted").press("Tab");
    expect(await page.locator("#planted").inputValue()).toBe("2000-02-29");
    expect(await page.locator("#watered").inputValue()).toBe("18:45:30");
    await page.locator("#planted").press("Delete");
    await page.getByRole("button", { name: "Save" }).click();
    await page.waitForSelector("#planted[aria-invalid]");
    expect((await values(page))["planted"]).toBeUndefined();
    expect(errors).toEqual([]);
  });

  test("an output shows what is calculated, and the page's own text while it is blank", async () => {
    const { page } = await bound();
    await page.fill("#girth", "31.5");
    expect(await page.locator("#diameter").innerText()).toBe("10.026761");
    await page.fill("#girth", "x");
    expect(await page.locator("#diameter").innerText()).toBe("not known yet");
  });
});

describe("focus, caret and composition", () => {
  test("the display format shows without the focus, the text to edit with it; Tab's selection stays", async () => {
    const { page } = await bound();
    await set(page, { girth: 1234.56 });
    const girth = page.locator("#girth");
    expect(await girth.inputValue()).toBe("1,234.6 cm");
    await page.locator("#exposure").focus();
    await page.keyboard.press("Shift+Tab");
    await page.keyboard.press("Shift+Tab");
    expect(await girth.inputValue()).toBe("1234.56");
    expect(await girth.evaluate((element: HTMLInputElement) => [element.selectionStart, element.selectionEnd])).toEqual(
      [0, 7],
    );
    await page.keyboard.press("Tab");
    expect(await girth.inputValue()).toBe("1,234.6 cm");
    expect(await page.evaluate(() => (kept["card"] as { changes(): object }).changes())).toEqual({ girth: 1234.56 });
  });

  test("typing in the middle does not move the caret, and a change from elsewhere waits until the control is left", async () => {
    const { page } = await bound();
    const tag = page.locator("#tag");
    await tag.fill("AB42");
    await tag.evaluate((element: HTMLInputElement) => {
      element.setSelectionRange(2, 2);
    });
    await page.keyboard.type("-00");
    expect(await tag.inputValue()).toBe("AB-0042");
    expect(await tag.evaluate((element: HTMLInputElement) => element.selectionStart)).toBe(5);
    await set(page, { tag: "ZZ-9999" });
    expect(await tag.inputValue()).toBe("AB-0042");
    await page.keyboard.press("Tab");
    expect(await tag.inputValue()).toBe("ZZ-9999");
  });

  test("reset rewrites a focused control", async () => {
    const { page } = await bound();
    await page.fill("#tag", "AB-0001");
    await page.evaluate(() => {
      document.forms[0]!.reset();
    });
    expect(await page.locator("#tag").inputValue()).toBe("");
    expect(await page.evaluate(() => document.activeElement!.id)).toBe("tag");
  });

  test("while text is composed nothing is read or rewritten; its end is read once", async () => {
    const { page } = await bound();
    await page.evaluate(() => {
      const seen: unknown[] = [];
      kept["seen"] = seen;
      const card = kept["card"] as { values: Values };
      ironwood.follow(
        () => card.values["notes"],
        (value) => seen.push(value),
      );
    });
    await page.locator("#notes").focus();
    const client = await page.context().newCDPSession(page);
    for (const part of ["k", "ka", "kas"])
      await client.send("Input.imeSetComposition", {
        text: part,
        selectionStart: part.length,
        selectionEnd: part.length,
      });
    expect(await page.evaluate(() => kept["seen"])).toEqual([]);
    await client.send("Input.insertText", { text: "樫" });
    expect(await page.evaluate(() => kept["seen"])).toEqual(["樫"]);
    expect(await page.locator("#notes").inputValue()).toBe("樫");
  });

  test("a revert in the middle of composing rewrites the control when the text is composed", async () => {
    const { page } = await bound();
    await page.locator("#notes").focus();
    const client = await page.context().newCDPSession(page);
    await client.send("Input.imeSetComposition", { text: "ka", selectionStart: 2, selectionEnd: 2 });
    await page.evaluate(() => {
      const card = kept["card"] as { values: Values; revert(): void };
      card.values["notes"] = "by code";
      card.revert();
    });
    await client.send("Input.insertText", { text: "樫" });
    expect([await page.locator("#notes").inputValue(), (await values(page))["notes"]]).toEqual(["", ""]);
  });

  test("what was in a control before it was bound counts as typed", async () => {
    const { page } = await bound(controls, async (early) => {
      await early.fill("#tag", "AB-0007");
      await early.locator("#fenced").check();
      await early.getByLabel("2", { exact: true }).check();
      await early.getByLabel("cavity").check();
    });
    expect(await values(page)).toMatchObject({ tag: "AB-0007", fenced: true, condition: 2, hazards: ["cavity"] });
    expect(await page.evaluate(() => (kept["card"] as { changed: boolean }).changed)).toBe(true);
  });

  test("a scanner's text and Enter, with no time between, saves what it typed", async () => {
    const { page } = await bound();
    await set(page, { species: "Tilia cordata", girth: 5 });
    await page.evaluate(() => {
      const tag = document.querySelector<HTMLInputElement>("#tag")!;
      tag.focus();
      tag.value = "AB-0099";
      tag.dispatchEvent(new InputEvent("input", { bubbles: true }));
      tag.form!.requestSubmit();
    });
    await page.waitForFunction(() => !(kept["card"] as { changed: boolean }).changed);
    expect((await values(page))["tag"]).toBe("AB-0099");
  });
});

describe("what does not agree", () => {
  const broken = `
    <label>Tag <input name="tag" id="tag" maxlength="4" value="AB"></label>
    <label>Girth <input name="girht" id="girth"></label>
    <input id="nameless">
    <select name="species"><option>Quercus robur</option><option>Quercus robur</option><option>Ulmus</option></select>
    <input type="radio" value="1" id="lonely">
    <input type="radio" name="condition" value="1"><input type="radio" name="condition" value="2"><input type="radio" name="condition" value="3">
    <input type="checkbox" name="stems">
    <textarea name="notes"></textarea><textarea name="notes"></textarea>
    <button command="--print-crad">Print</button>`;

  test("ten mistakes are one report that names each place; the rest of the page works", async () => {
    const { page, errors } = await bound(broken);
    expect(errors).toHaveLength(1);
    const report = errors[0]!;
    for (const part of [
      /does not agree with what it is bound to in 1\d places/,
      /<input id="girth" name="girht">\s+The model of "card" has no field "girht"\. Did you mean "girth"\?/,
      /<input id="nameless">\s+A control has no name/,
      /<input id="lonely" type="radio" value="1">\s+A radio button has no name, so it belongs to no group/,
      /Two options of "species" have the value "Quercus robur"/,
      /"Ulmus" is not one of the choices of "species"/,
      /no option of "species" for "Tilia cordata"/,
      /A check box does not suit the field "stems", which is integer\. Right would be a text field or a number field or a slider/,
      /The name "notes" stands at two controls of one sort/,
      /The page says maxlength="4" of "tag"/,
      /The page begins "tag" with value="AB"/,
      /These fields have no control in the form "card": "hazards" \(Hazards\), "exposure"/,
      /No command was given under the name "printCrad"/,
    ])
      expect(report).toMatch(part);
    await page.fill("#tag", "AB-0042");
    expect((await values(page))["tag"]).toBe("AB-0042");
  });

  test("with strict: true binding refuses, with the same report", async () => {
    const { page } = await pageWith(form(`<input name="tga">`));
    const error = await page.evaluate(() => {
      const { bindPage, IronwoodError, model, newEntry, text } = ironwood;
      try {
        bindPage(document, { card: newEntry(model({ tag: text() })) }, { strict: true });
        return "nothing was refused";
      } catch (reason) {
        return `${String(reason instanceof IronwoodError)} ${String(reason)} ${String(document.forms[0]!.noValidate)}`;
      }
    });
    expect(error).toMatch(/^true .*"tga"\. Did you mean "tag"\?.* false$/s);
  });

  test("binding while the page is still being read is recognised and named as such", async () => {
    const { page } = await newPage();
    await page.addInitScript({ path: harnessScript });
    const body = `<!doctype html><html lang="en"><head><script>
      const { bindPage, model, newEntry, text } = ironwood;
      try { bindPage(document, { card: newEntry(model({ tag: text() })) }); } catch (error) { kept.error = error.code + ": " + error.message; }
    </script></head><body><form name="card"><input name="tag"></form></body></html>`;
    await page.route("http://early.test/", (route) => route.fulfill({ body, contentType: "text/html" }));
    await page.goto("http://early.test/");
    expect(await page.evaluate(() => kept["error"])).toMatch(
      /^tooEarly: bindPage was called while the page was still being read\. Right would be a call from <script type="module">/,
    );
  });

  test("what only code may change is refused to people, with the reason, and stays reachable", async () => {
    const { page } = await pageWith(
      form(
        `<input name="tag" id="tag"><label><input type="checkbox" name="fenced" id="fenced"> Fenced</label><select name="species" id="species"></select><input type="range" name="exposure" id="exposure">`,
      ),
    );
    await page.evaluate(() => {
      const { bindPage, boolean, integer, model, newEntry, oneOf, text } = ironwood;
      const readOnly = true;
      const tree = model({
        tag: text({ readOnly }),
        fenced: boolean({ readOnly }),
        species: oneOf(["a", "b"], { readOnly }),
        exposure: integer({ minimum: 0, maximum: 9, readOnly }),
      });
      const card = newEntry(tree, {
        values: { tag: "AB", fenced: true, species: "a", exposure: 4 },
        save: () => "Saved.",
      });
      kept["card"] = card;
      bindPage(document, { card });
    });
    await page.locator("#tag").press("End");
    await page.keyboard.type("CD");
    await page.locator("#fenced").press("Space");
    await page.locator("#species").evaluate((select: HTMLSelectElement) => {
      select.value = "b";
      select.dispatchEvent(new Event("change", { bubbles: true }));
    });
    await page.locator("#exposure").press("ArrowRight");
    expect(await values(page)).toEqual({ tag: "AB", fenced: true, species: "a", exposure: 4 });
    expect([await page.locator("#fenced").isChecked(), await page.locator("#species").inputValue()]).toEqual([
      true,
      "a",
    ]);
    expect(await page.locator("#fenced").getAttribute("title")).toBe("This can't be changed here.");
    await set(page, { tag: "by code" });
    await page.locator("#fenced").focus();
    expect(await page.locator("#tag").inputValue()).toBe("by code");
  });

  test("a wrong thing, an unknown form and a missing form are named", async () => {
    const { page, errors } = await pageWith(form("") + `<form name="cadr"></form>`);
    const thrown = await page.evaluate(() => {
      const { bindPage, model, newEntry, text } = ironwood;
      bindPage(document, { crad: newEntry(model({ tag: text() })) });
      try {
        bindPage(document, { card: "card" as never });
      } catch (reason) {
        return String(reason);
      }
      return "";
    });
    expect(thrown).toMatch(/can't bind under the name "card".*Received "card".*an entry/);
    await eventually(() => errors.length > 0, true);
    expect(errors.join()).toMatch(/Nothing was given under the name of the form "card".*Did you mean "crad"/s);
    expect(errors.join()).toMatch(/The page has no <form name="crad">/);
  });
});

describe("in code, and as the page changes", () => {
  test("bindControl, bindOutput and bindCommand do what names in the page do", async () => {
    const { page } = await pageWith(
      `<label>Girth <input id="girth"></label><h1 id="heading">nothing</h1><button id="double">Double</button><p role="status"></p>`,
    );
    await page.evaluate(() => {
      const { bindCommand, bindControl, bindOutput, command, model, newEntry, number } = ironwood;
      const card = newEntry(model({ girth: number({ maximum: 100 }) }), { locale: "en" });
      const at = (id: string): HTMLElement => document.getElementById(id)!;
      bindControl(at("girth"), card.fields.girth);
      bindOutput(at("heading"), () => card.values.girth && `Girth is\n${card.values.girth}`);
      bindOutput(document.querySelector("title")!, card.fields.girth);
      const double = command({
        allowed: () => card.values.girth !== undefined || "Enter a girth first.",
        run: () => {
          card.values.girth! *= 2;
        },
      });
      bindCommand(at("double") as HTMLButtonElement, double);
    });
    expect(await page.locator("#double").getAttribute("aria-disabled")).toBe("true");
    await page.fill("#girth", "40");
    await page.click("#double");
    expect(await page.locator("#girth").inputValue()).toBe("80");
    expect(await page.locator("#heading").innerHTML()).toBe("Girth is<br>80");
    expect(await page.title()).toBe("80");
    expect(await page.locator("#girth").getAttribute("aria-invalid")).toBeNull();
    await page.click("#double");
    expect(await page.locator("#girth").getAttribute("aria-invalid")).toBe("true");
  });

  test("controls and options that arrive, move or go later are bound and released", async () => {
    const { page, errors } = await bound(
      `<label>Tag <input name="tag" id="tag"></label><div id="place"></div>${controls.slice(controls.indexOf("<label>Species"))}`,
    );
    await page.evaluate(() => {
      document.querySelector("#place")!.innerHTML = `<label>Tag again <input name="tag" id="again"></label>`;
      document
        .querySelector("fieldset")!
        .insertAdjacentHTML(
          "beforeend",
          `<label><input type="radio" name="condition" value="3" id="late"> late</label>`,
        );
    });
    await page.fill("#tag", "AB-0001");
    expect(await page.locator("#again").inputValue()).toBe("AB-0001");
    await page.locator("#late").check();
    expect((await values(page))["condition"]).toBe(3);
    expect(errors).toEqual([expect.stringContaining('Two options of "condition" have the value "3".')]);
    const gone = await page.evaluateHandle(() => {
      const again = document.querySelector<HTMLInputElement>("#again")!;
      again.remove();
      return again;
    });
    await page.waitForTimeout(20);
    await page.fill("#tag", "AB-0002");
    expect(await gone.evaluate((element) => element.value)).toBe("");
  });

  test("after stop nothing listens, and what was made is gone", async () => {
    const { page } = await bound();
    await page.getByRole("button", { name: "Save" }).click();
    await page.waitForSelector("[data-problem]");
    await page.evaluate(() => {
      (kept["binding"] as { stop(): void }).stop();
    });
    expect(await page.locator("[data-problem], [aria-invalid], [data-not-set]").count()).toBe(0);
    await page.fill("#tag", "AB-0001");
    expect((await values(page))["tag"]).toBe("");
    await set(page, { notes: "unseen" });
    expect(await page.locator("#notes").inputValue()).toBe("");
  });

  test("binding and unbinding 300 times leaves no listener, no node and no entry", async () => {
    const { page } = await pageWith(form(controls));
    const client = await page.context().newCDPSession(page);
    await client.send("Performance.enable");
    const measure = async (): Promise<Record<string, number>> => {
      await client.send("HeapProfiler.collectGarbage");
      const { metrics } = await client.send("Performance.getMetrics");
      return Object.fromEntries(
        metrics
          .filter(({ name }) => ["JSEventListeners", "Nodes"].includes(name))
          .map(({ name, value }) => [name, value]),
      );
    };
    const bindOften = (times: number): Promise<number> =>
      page.evaluate(async (count) => {
        const { bindPage, boolean, integer, model, newEntry, number, oneOf, someOf, text } = ironwood;
        const gone: WeakRef<object>[] = [];
        for (let time = 0; time < count; time++) {
          const tree = model({
            tag: text({ required: true }),
            species: oneOf(["Quercus robur"], { required: true }),
            condition: oneOf([1, 2, 3]),
            hazards: someOf(["leaning", "cavity"]),
            girth: number({ required: true }),
            stems: integer({ default: 1 }),
            exposure: integer({ minimum: 0, maximum: 10 }),
            fenced: boolean(),
            notes: text(),
          }).calculated({ diameter: (t) => t.girth / 3 });
          const card = newEntry(tree, { save: () => "Saved." });
          const binding = bindPage(document, { card });
          void card.check();
          binding.stop();
          gone.push(new WeakRef(card));
        }
        kept["gone"] = gone;
        await new Promise((resolve) => setTimeout(resolve, 20));
        return count;
      }, times);
    await bindOften(3);
    const before = await measure();
    await bindOften(300);
    const after = await measure();
    expect(after).toEqual(before);
    expect(
      await page.evaluate(
        () => (kept["gone"] as WeakRef<object>[]).filter((each) => each.deref() !== undefined).length,
      ),
    ).toBe(0);
  });

  test("controls outside the form belong to it by form=, and scopes by fieldset names are kept apart", async () => {
    const { page, errors } = await pageWith(
      `<form name="card" id="f"><input name="tag" id="tag"></form><textarea name="notes" form="f" id="notes"></textarea>`,
    );
    await page.evaluate(() => {
      const { bindForm, model, newEntry, text } = ironwood;
      const card = newEntry(model({ tag: text(), notes: text() }));
      kept["card"] = card;
      bindForm(document.forms[0]!, card);
    });
    await page.fill("#notes", "outside");
    expect((await values(page))["notes"]).toBe("outside");
    expect(errors).toEqual([]);
  });

  test("texts are shown one after the other, each long enough to be read; the same one twice is announced twice", async () => {
    const { page } = await pageWith(`<p role="status"></p>`);
    const seen = await page.evaluate(async () => {
      const { bindPage, notices } = ironwood;
      bindPage(document, {});
      const line = document.querySelector("[role=status]")!;
      const nodes: (readonly [text: string, live: string | null, at: number])[] = [];
      const began = performance.now();
      new MutationObserver(() =>
        nodes.push([line.textContent, line.getAttribute("aria-live"), performance.now() - began]),
      ).observe(line, { childList: true });
      notices.say("Saved.");
      notices.say("Saved.");
      await new Promise((done) => setTimeout(done, 1_800));
      notices.say("Counted.");
      notices.say("The disk is full.", "error");
      await new Promise((done) => setTimeout(done));
      notices.clear();
      await new Promise((done) => setTimeout(done));
      return { nodes, history: notices.history.map(({ text, severity }) => `${severity} ${text}`) };
    });
    expect(seen.nodes.map(([text, live]) => [text, live])).toEqual([
      ["Saved.", "polite"],
      ["Saved.", "polite"],
      ["The disk is full.", "assertive"],
      ["", "assertive"],
    ]);
    expect(seen.nodes[1]![2] - seen.nodes[0]![2]).toBeGreaterThanOrEqual(1_490);
    expect(seen.history).toEqual([
      "information Saved.",
      "information Saved.",
      "information Counted.",
      "error The disk is full.",
    ]);
  });

  test("a command that is busy runs once, says so, and reports how it went", async () => {
    const { page } = await pageWith(`<button command="--load-stock">Load</button><p role="status"></p>`);
    await page.evaluate(() => {
      const { bindPage, command } = ironwood;
      let runs = 0;
      const loadStock = command({
        run: async () => {
          runs++;
          await new Promise((resolve) => (kept["release"] = resolve));
          if (runs === 2) throw new Error("The stock can't be reached.");
          return `Loaded ${runs}.`;
        },
      });
      bindPage(document, { loadStock });
    });
    const button = page.getByRole("button");
    await button.click();
    await button.click();
    expect(await button.getAttribute("aria-busy")).toBe("true");
    const release = (): Promise<void> => page.evaluate(() => (kept["release"] as () => void)());
    await release();
    await page.getByText("Loaded 1.").waitFor();
    expect(await button.getAttribute("aria-busy")).toBeNull();
    await button.click();
    await release();
    await page.getByText("The stock can't be reached.").waitFor();
  });
});

test("the page of all kinds of controls has no accessibility violation, blank and with problems", async () => {
  const { page } = await bound(`<main><h1>Card</h1>${controls}</main>`);
  const known = (violations: string[]): string[] =>
    violations.filter((each) => !each.startsWith("region") && !each.startsWith("label: <output"));
  expect(known(await accessibilityViolations(page))).toEqual([]);
  await page.getByRole("button", { name: "Save" }).click();
  await page.waitForSelector("[data-problem]");
  expect(known(await accessibilityViolations(page))).toEqual([]);
});
