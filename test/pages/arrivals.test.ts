/** What arrives, goes, moves or gets another name after the page was bound; shadow trees; documents of frames; elements that are defined later. */
import { afterAll, describe, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { closeBrowser, eventually, pageWith } from "./support.ts";

afterAll(closeBrowser);

async function withCard(html: string) {
  const watched = await pageWith(`${html}<p role="status"></p>`);
  await watched.page.evaluate(() => {
    const { bindPage, boolean, command, group, integer, model, newEntry, oneOf, someOf, text } = ironwood;
    const card = newEntry(
      model({
        name: text({ default: "Alder" }),
        notes: text({ default: "by the gate" }),
        stems: integer({ default: 3 }),
        fenced: boolean(),
        soil: oneOf(["clay", "loam", "sand"], { default: "loam" }),
        hazards: someOf(["leaning", "cavity"]),
        left: group({ side: oneOf(["north", "south"], { default: "north" }) }),
        right: group({ side: oneOf(["north", "south"], { default: "south" }) }),
      }),
      { locale: "en", save: () => undefined },
    );
    const count = command({ title: "Count", run: () => void (kept["count"] = Number(kept["count"] ?? 0) + 1) });
    Object.assign(kept, { card });
    kept["binding"] = bindPage(document, { card, count });
  });
  const { page } = watched;
  // What is missing at first is told to the builder, and is no matter here.
  expect(watched.errors.filter((text) => !text.includes("The page does not agree"))).toEqual([]);
  const run = (work: string) => page.evaluate(`{ const { card, binding } = kept; ${work} }`);
  const put = (where: string, markup: string) =>
    page.evaluate(([at, what]) => document.querySelector(at)!.insertAdjacentHTML("beforeend", what), [
      where,
      markup,
    ] as const);
  const values = () => page.evaluate(() => ({ ...(kept["card"] as { row(): Record<string, unknown> }).row() }));
  return { ...watched, run, put, values };
}
const shown = (page: Page, at: string) => () => page.locator(at).inputValue();

describe("after the page was bound", () => {
  test("a whole form, a button of a command, and an output outside arrive, work, go, and leave nothing", async () => {
    const { page, put, run, values } = await withCard(`<main></main>`);
    await put(
      "main",
      `<form name="card"><input name="name"></form><button command="--count"></button><output data-name="card.name"></output>`,
    );
    expect(await eventually(shown(page, "[name=name]"), "Alder")).toBe("Alder");
    expect(await page.locator("button").innerText()).toBe("Count");
    await page.locator("[name=name]").fill("Oak");
    expect(await page.locator("output").innerText()).toBe("Oak");
    await page.click("button");
    expect(await page.evaluate(() => kept["count"])).toBe(1);
    await run(
      `kept.gone = document.querySelector("form"); kept.gone.remove(); document.querySelector("button").remove()`,
    );
    await run(
      `kept.gone.querySelector("input").value = "Birch"; kept.gone.querySelector("input").dispatchEvent(new Event("input", { bubbles: true }))`,
    );
    expect((await values())["name"]).toBe("Oak");
    await run(`document.querySelector("main").append(kept.gone)`);
    // What was put into it meanwhile is taken, as when a form is bound that somebody has filled in.
    expect(await eventually(shown(page, "[name=name]"), "Birch")).toBe("Birch");
    expect((await values())["name"]).toBe("Birch");
    await run(
      `binding.stop(); document.querySelector("main").insertAdjacentHTML("beforeend", '<button command="--count">x</button>')`,
    );
    await page.click("button");
    expect(await page.evaluate(() => kept["count"])).toBe(1);
  });

  test("a control, an output and a button that get another name are of that name", async () => {
    const { page, run, values } = await withCard(
      `<form name="card"><input id="a" name="name"></form><output data-name="card.name"></output><button command="--other">-</button>`,
    );
    await run(
      `document.querySelector("#a").name = "notes"; document.querySelector("output").dataset.name = "card.stems"; document.querySelector("button").setAttribute("command", "--count")`,
    );
    expect(await eventually(shown(page, "#a"), "by the gate")).toBe("by the gate");
    await page.locator("#a").fill("elsewhere");
    expect(await values()).toMatchObject({ name: "Alder", notes: "elsewhere" });
    expect(await page.locator("output").innerText()).toBe("3");
    await page.click("button");
    expect(await page.evaluate(() => kept["count"])).toBe(1);
  });

  test("form= ties a control to the form, and takes it out", async () => {
    const { page, run, values } = await withCard(`<form name="card" id="card"></form><input id="a" name="name">`);
    await run(`document.querySelector("#a").setAttribute("form", "card")`);
    expect(await eventually(shown(page, "#a"), "Alder")).toBe("Alder");
    await run(`document.querySelector("#a").removeAttribute("form")`);
    await page.locator("#a").fill("Oak");
    expect((await values())["name"]).toBe("Alder");
  });

  test("a fieldset that gets another name, and radio buttons that go into another scope", async () => {
    const radios = `<label><input type="radio" name="side" value="north">N</label><label><input type="radio" name="side" value="south">S</label>`;
    const { page, run, values } = await withCard(
      `<form name="card"><fieldset id="l" name="left">${radios}</fieldset><fieldset id="r" name="other"></fieldset></form>`,
    );
    const checked = (at: string) => () =>
      page.evaluate((where) => document.querySelector<HTMLInputElement>(`${where} input:checked`)?.value, at);
    expect(await checked("#l")()).toBe("north");
    await run(`document.querySelector("#l").name = "right"`);
    expect(await eventually(checked("#l"), "south")).toBe("south");
    await run(
      `document.querySelector("#r").name = "left"; document.querySelector("#r").append(...document.querySelectorAll("#l label"))`,
    );
    expect(await eventually(checked("#r"), "north")).toBe("north");
    await page.locator("#r input").nth(1).check();
    expect(await values()).toMatchObject({ left: { side: "south" }, right: { side: "south" } });
  });

  test("options of the page that are replaced, and one that goes: the choice is not another one", async () => {
    const { page, run, values } = await withCard(
      `<form name="card"><select name="soil"><option value="clay">C</option><option value="loam">L</option></select></form>`,
    );
    await run(
      `document.querySelector("select").innerHTML = '<option value="sand">S</option><option value="loam">L</option><option value="clay">C</option>'`,
    );
    expect(await eventually(shown(page, "select"), "loam")).toBe("loam");
    await run(`document.querySelector("option[value=loam]").remove()`);
    await page.waitForTimeout(50);
    expect(await page.locator("select").inputValue()).not.toMatch(/clay|sand/);
    expect((await values())["soil"]).toBe("loam");
  });

  test("a check box that comes ticked in the markup shows what the field holds, alone and in a set", async () => {
    const { page, put, run, values } = await withCard(
      `<form name="card"><input type="checkbox" name="hazards" value="leaning"></form>`,
    );
    await put(
      "form",
      `<input type="checkbox" name="fenced" checked><input type="checkbox" name="hazards" value="cavity" checked>`,
    );
    const boxes = () =>
      page.locator("input").evaluateAll((all) => all.map((each) => (each as HTMLInputElement).checked));
    expect(await eventually(boxes, [false, false, false])).toEqual([false, false, false]);
    expect(await values()).toMatchObject({ fenced: false, hazards: [] });
    await run(`card.values.hazards = ["cavity"]; card.values.fenced = true`);
    expect(await boxes()).toEqual([false, true, true]);
  });

  test("a number field that is moved takes its buttons with it", async () => {
    const { page, run } = await withCard(
      `<form name="card"><div id="a"><label>Stems <input type="number" name="stems"></label></div><div id="b"></div></form>`,
    );
    const before = await page.locator("#a button").count();
    expect(before).toBeGreaterThan(0);
    await run(`document.querySelector("#b").append(document.querySelector("label"))`);
    expect(await eventually(() => page.locator("#b button").count(), before)).toBe(before);
    expect(await page.locator("#a button").count()).toBe(0);
    await page.locator("#b button").first().click();
    expect(await page.evaluate(() => (kept["card"] as { values: { stems: number } }).values.stems)).not.toBe(3);
  });

  test("a custom element that is defined later shows its field, and is heard", async () => {
    const { page, run, values } = await withCard(`<form name="card"><x-box name="name"></x-box></form>`);
    await run(`customElements.define("x-box", class extends HTMLElement {
      static formAssociated = true;
      #value = "";
      get value() { return this.#value; }
      set value(value) { this.#value = value; this.textContent = "[" + value + "]"; }
    })`);
    expect(await eventually(() => page.locator("x-box").innerText(), "[Alder]")).toBe("[Alder]");
    await run(
      `const box = document.querySelector("x-box"); box.value = "Oak"; box.dispatchEvent(new Event("input", { bubbles: true })); box.dispatchEvent(new Event("change", { bubbles: true }))`,
    );
    expect((await values())["name"]).toBe("Oak");
  });
});

describe("elsewhere than in the document of the script", () => {
  test("a form in a shadow tree: what is typed stays while it is typed; ids are of that tree; the message is named there", async () => {
    const { page } = await pageWith(`<div id="host"></div><p role="status"></p>`);
    await page.evaluate(() => {
      const { bindForm, model, newEntry, number } = ironwood;
      const root = document.querySelector("#host")!.attachShadow({ mode: "open" });
      root.innerHTML = `<form name="card"><label>Girth <input name="girth"></label></form>`;
      const card = newEntry(model({ girth: number({ maximum: 10, display: { minimumFractionDigits: 2 } }) }), {
        locale: "en",
        save: () => undefined,
      });
      Object.assign(kept, { card });
      bindForm(root.querySelector("form")!, card);
    });
    await page.locator("[name=girth]").focus();
    await page.keyboard.type("1.5");
    expect(await page.locator("[name=girth]").inputValue()).toBe("1.5");
    await page.keyboard.type("00000");
    expect(await page.locator("[name=girth]").inputValue()).toBe("1.500000");
    await page.locator("[name=girth]").fill("99");
    await page.keyboard.press("Enter");
    const named = await page.evaluate(() => {
      const root = document.querySelector("#host")!.shadowRoot!;
      const id = root.querySelector("input")!.getAttribute("aria-errormessage");
      return id === null ? root.innerHTML : root.getElementById(id)?.textContent;
    });
    expect(named).toContain("10");
  });

  test("a page in a frame is bound from outside, by every call", async () => {
    const { page } = await pageWith(`<iframe></iframe>`);
    const found = await page.evaluate(async () => {
      const {
        bindControl,
        bindGrid,
        bindList,
        bindOutput,
        bindPage,
        bindRows,
        command,
        model,
        newEntry,
        oneOf,
        table,
        text,
        view,
      } = ironwood;
      const inner = document.querySelector("iframe")!.contentDocument!;
      inner.body.innerHTML = `<form name="card"><label>Name <input name="name"></label><label>Soil <select name="soil"></select></label><textarea name="notes"></textarea><button>Save</button></form>
        <input id="lone"><output id="out"></output><select id="list"></select><ul><template><li><input name="tag"></li></template></ul><div><table aria-label="x"></table></div><button command="--go"></button><p role="status"></p>`;
      const saved: object[] = [];
      const card = newEntry(
        model({ name: text({ default: "Alder" }), soil: oneOf(["clay", "loam"], { default: "loam" }), notes: text() }),
        { locale: "en", save: (row) => void saved.push(row) },
      );
      let runs = 0;
      const one = <E extends Element>(at: string) => inner.querySelector<E>(at);
      const shown = view(table(model({ tag: text() }, { key: "tag" }), [{ tag: "a" }, { tag: "b" }]));
      const page = bindPage(inner, {
        card,
        go: command({
          title: "Go",
          run: () => {
            runs++;
          },
        }),
      });
      bindControl(one("#lone")!, card.fields.name);
      bindOutput(one("#out")!, card.fields.name);
      bindList(one("#list")!, shown, { show: "tag" });
      bindRows(one("ul")!, shown);
      bindGrid(one("table")!, shown, { edit: "row" });
      const name = one<HTMLInputElement>("[name=name]")!;
      name.focus();
      name.value = "Oak";
      const { InputEvent: Input } = inner.defaultView as unknown as typeof globalThis;
      name.dispatchEvent(new Input("input", { bubbles: true }));
      one<HTMLButtonElement>("form button")!.click();
      one<HTMLButtonElement>("[command]")!.click();
      await new Promise((done) => setTimeout(done, 50));
      const result = [
        one<HTMLInputElement>("#lone")!.value,
        one("#out")!.textContent,
        one<HTMLSelectElement>("[name=soil]")!.value,
        one<HTMLSelectElement>("#list")!.options.length,
        inner.querySelectorAll("ul li").length,
        inner.querySelectorAll("tbody tr[aria-rowindex]").length,
        runs,
        saved.length,
      ];
      page.stop();
      return result;
    });
    expect(found).toEqual(["Oak", "Oak", "loam", 3, 2, 2, 1, 1]);
  });
});
