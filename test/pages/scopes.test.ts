/** Names in scopes, controls in step, what comes from elsewhere than the keyboard, and what is left behind. */
import { afterAll, describe, expect, test } from "@jest/globals";
import { controlList } from "./controlList.ts";
import { closeBrowser, newDemo, newPage, pageWith } from "./support.ts";

afterAll(closeBrowser);

const part = (name: string): string => `
  <fieldset name="${name}"><legend>${name}</legend>
    <label>Girth <input name="girth"></label>
    ${[1, 2, 3].map((value) => `<label><input type="radio" name="condition" value="${value}"> ${value}</label>`).join("")}
    <output name="diameter"></output>
  </fieldset>`;

describe("fields with the names of a form's own members", () => {
  /** A page with a control for each member that a form has, and every way of binding it. */
  async function bound(how: "bindPage" | "bindForm") {
    const watched = await pageWith('<p role="status"></p>');
    const names = await watched.page.evaluate((call) => {
      const { bindForm, bindPage, model, newEntry, text } = ironwood;
      const members = new Set<string>();
      for (
        let at: object = HTMLFormElement.prototype;
        at !== Object.prototype;
        at = Object.getPrototypeOf(at) as object
      )
        for (const name of Object.getOwnPropertyNames(at)) members.add(name);
      members.delete("constructor");
      const names = [...members];
      const form = document.createElement("form");
      form.setAttribute("name", "tree");
      form.setAttribute("lang", "en");
      const label = (name: string): string => `<label>${name} <input name="${name}"></label>`;
      form.innerHTML = `<fieldset id="first"><legend>First</legend>${label(names[0]!)}</fieldset>
        ${names.slice(1).map(label).join("")}<output name="tagName"></output><button>Save</button><button type="reset">Back</button>`;
      document.body.append(form);
      const saved: unknown[] = [];
      const tree = newEntry(
        model({
          ...Object.fromEntries(names.map((name) => [name, text({ maxLength: 3 })])),
          [names[1]!]: text({ required: true, maxLength: 3 }),
        }).relevant({ [names[0]!]: (t: Record<string, string>) => t[names[2]!] !== "no" }),
        { save: (row: unknown) => void saved.push(row) },
      );
      const binding = call === "bindPage" ? bindPage(document, { tree }) : bindForm(form, tree);
      Object.assign(kept, { saved, tree, binding });
      return names;
    }, how);
    return { ...watched, names };
  }

  test.each(["bindPage", "bindForm"] as const)("are bound by %s like any others", async (how) => {
    const { page, errors, names } = await bound(how);
    expect(names.length).toBeGreaterThan(250);
    expect(names).toEqual(expect.arrayContaining(["id", "name", "title", "length", "elements", "closest", "children"]));
    // What drives the browser asks forms by their members' names itself, so that here it only has the keyboard.
    const enter = async (name: string, value: string): Promise<void> => {
      await page.evaluate((at) => document.querySelector<HTMLInputElement>(`input[name="${at}"]`)!.focus(), name);
      await page.keyboard.press("Control+a");
      await page.keyboard.type(value);
    };
    const held = (name: string): Promise<string> =>
      page.evaluate((at) => document.querySelector<HTMLInputElement>(`input[name="${at}"]`)!.value, name);
    const press = (place: number): Promise<void> =>
      page.evaluate((at) => document.querySelectorAll("button")[at]!.click(), place);
    for (const name of ["id", "name", "length", "elements", "closest", "parentElement"]) await enter(name, "abc");
    await enter("title", "abcd");
    await enter("id", "abc");
    expect(await page.evaluate(() => document.querySelector("#tree-title-problem")?.textContent)).toBe(
      "At most 3 characters; this has 4.",
    );
    const firstHidden = (): Promise<unknown> => page.evaluate(() => document.querySelector("fieldset")!.hidden);
    await enter(names[2]!, "no");
    expect(await firstHidden()).toBe(true);
    await page.keyboard.press("Control+z");
    expect(await held(names[2]!)).toBe("");
    expect(await firstHidden()).toBe(false);
    await press(0);
    await enter("title", "ab");
    await enter(names[1]!, "y");
    await press(0);
    await page.waitForFunction(() => (kept["saved"] as unknown[]).length === 1);
    const abc = { id: "abc", closest: "abc", elements: "abc", parentElement: "abc", title: "ab" };
    expect(await page.evaluate(() => (kept["saved"] as unknown[])[0])).toMatchObject(abc);
    await enter("id", "x");
    await press(1);
    expect(await held("id")).toBe("abc");
    await page.evaluate(() => (kept["binding"] as { stop(): void }).stop());
    await enter("id", "z");
    expect(await page.evaluate(() => (kept["tree"] as { values: { id: string } }).values.id)).toBe("abc");
    expect(errors).toEqual([]);
  });
});

describe("a part of a page that is used twice", () => {
  async function bound() {
    const watched = await pageWith(
      `<form name="survey" id="survey"><label>Tag <input name="tag"></label>${part("before")}${part("after")}</form>
       <label>Note <input name="after.note" form="survey"></label><p data-name="survey.after.girth">–</p>`,
    );
    await watched.page.evaluate(() => {
      const { bindPage, group, model, newEntry, number, oneOf, text } = ironwood;
      const measured = () => ({
        girth: number({ required: true, unit: "centimeter" }),
        condition: oneOf([1, 2, 3]),
        diameter: number({ readOnly: true, saved: false }),
      });
      const before = measured();
      const survey = newEntry(
        model({ tag: text(), before: group(before), after: group({ ...measured(), note: text() }) }).rule("shrunk", {
          shownAt: ["after.girth"],
          holds: (t) => t.after.girth >= t.before.girth,
          message: "A tree does not shrink.",
        }),
        { locale: "en" },
      );
      Object.assign(kept, { survey, binding: bindPage(document, { survey }, { strict: true }) });
    });
    return watched;
  }
  const row = (): Promise<unknown> => pageRow();
  let pageRow: () => Promise<unknown>;

  test("keeps its values apart, its radio buttons too, in the page and in code", async () => {
    const { page, errors } = await bound();
    pageRow = () => page.evaluate(() => (kept["survey"] as { row(): unknown }).row());
    await page.locator("fieldset[name=before] input[name=girth]").fill("80");
    await page.locator("fieldset[name=after] input[name=girth]").fill("85.5");
    await page.locator("fieldset[name=before] input[type=radio]").nth(0).check();
    await page.locator("fieldset[name=after] input[type=radio]").nth(2).check();
    await page.locator("[form=survey]").fill("by the gate");
    expect(await row()).toEqual({
      tag: "",
      before: { girth: 80, condition: 1 },
      after: { girth: 85.5, condition: 3, note: "by the gate" },
    });
    expect(await page.locator("input[type=radio]:checked").count()).toBe(2);
    expect(await page.locator("[data-name='survey.after.girth']").innerText()).toBe("85.5 cm");
    expect(errors).toEqual([]);
  });

  test("shows a problem in the right one of the two, and gives the names of its radio buttons back", async () => {
    const { page } = await bound();
    await page.locator("fieldset[name=before] input[name=girth]").fill("80");
    await page.locator("fieldset[name=after] input[name=girth]").fill("75");
    await page.locator("[name=tag]").focus();
    expect(await page.locator("fieldset[name=after] [data-problem=shrunk]").innerText()).toBe(
      "A tree does not shrink.",
    );
    expect(await page.locator("fieldset[name=before] [data-problem]").count()).toBe(0);
    await page.evaluate(() => (kept["binding"] as { stop(): void }).stop());
    expect(await page.locator("[name=condition]").count()).toBe(6);
  });

  test("a misspelled name in a scope is told by its full path", async () => {
    const { page } = await pageWith(`<form name="survey">${part("before").replace("girth", "girht")}</form>`);
    const report = await page.evaluate(() => {
      const { bindPage, group, model, newEntry, number, oneOf } = ironwood;
      const survey = newEntry(
        model({ before: group({ girth: number(), condition: oneOf([1, 2, 3]), diameter: number() }) }),
      );
      try {
        bindPage(document, { survey }, { strict: true });
        return "";
      } catch (error) {
        return (error as Error).message;
      }
    });
    expect(report).toMatch(/has no field "before\.girht"\. Did you mean "before\.girth"\?/);
  });
});

test("several list boxes show different columns of the same records and stay in step; details follow", async () => {
  const box = (captions: readonly string[], label: string): string =>
    `<label>${label} <select name="tag" size="3">${["AB-1", "AB-2", "AB-3"]
      .map((value, place) => `<option value="${value}">${captions[place]!}</option>`)
      .join("")}</select></label>`;
  const { page, errors } = await pageWith(
    `<form name="pick">${box(["AB-1", "AB-2", "AB-3"], "Tag")}${box(["Oak", "Elm", "Ash"], "Species")}<output name="place"></output></form>`,
  );
  await page.evaluate(() => {
    const { bindPage, model, newEntry, oneOf } = ironwood;
    const beds: Record<string, string> = { "AB-1": "bed 7", "AB-2": "bed 9", "AB-3": "bed 2" };
    const pick = newEntry(
      model({ tag: oneOf(["AB-1", "AB-2", "AB-3"]) }).calculated({ place: (t) => beds[t.tag ?? ""] }),
    );
    bindPage(document, { pick }, { strict: true });
  });
  const chosen = (): Promise<string[]> =>
    page
      .locator("select")
      .evaluateAll((boxes) => boxes.map((each) => (each as HTMLSelectElement).selectedOptions[0]?.text ?? ""));
  expect(await chosen()).toEqual(["", ""]);
  await page.locator("select").nth(1).selectOption({ label: "Elm" });
  expect([await chosen(), await page.locator("output").innerText()]).toEqual([["AB-2", "Elm"], "bed 9"]);
  await page.locator("select").nth(0).focus();
  await page.keyboard.press("ArrowDown");
  expect([await chosen(), await page.locator("output").innerText()]).toEqual([["AB-3", "Ash"], "bed 2"]);
  await page.keyboard.press("Delete");
  expect(await chosen()).toEqual(["", ""]);
  expect(errors).toEqual([]);
});

test("choices that depend on another: the list follows, and a value that is none of them is kept, shown and explained", async () => {
  const { page } = await pageWith(
    `<form name="tree"><select name="species" aria-label="Species"></select><select name="cultivar" aria-label="Cultivar"></select></form>`,
  );
  await page.evaluate(() => {
    const { bindPage, model, newEntry, oneOf } = ironwood;
    const all = { "Quercus robur": ["Fastigiata", "Concordia"], "Alnus glutinosa": ["Laciniata"] } as const;
    const tree = newEntry(
      model({
        species: oneOf(["Quercus robur", "Alnus glutinosa"], { required: true }),
        cultivar: oneOf(["Fastigiata", "Concordia", "Laciniata"]),
      }).choices({ cultivar: (t) => all[t.species] }),
      { locale: "en" },
    );
    Object.assign(kept, { tree });
    bindPage(document, { tree }, { strict: true });
  });
  const options = (): Promise<string[]> => page.locator("[name=cultivar] option").allInnerTexts();
  expect(await options()).toEqual([""]);
  await page.selectOption("[name=species]", "Quercus robur");
  expect(await options()).toEqual(["", "Fastigiata", "Concordia"]);
  await page.selectOption("[name=cultivar]", "Concordia");
  await page.selectOption("[name=species]", "Alnus glutinosa");
  expect(await options()).toEqual(["", "Laciniata", "Concordia"]);
  expect(await page.locator("[name=cultivar]").inputValue()).toBe("Concordia");
  await page.evaluate(() => (kept["tree"] as { check(): unknown }).check());
  expect(await page.locator("[data-problem=notAChoice]").innerText()).toBe("Concordia is not one of the choices.");
});

test("a problem inside a value puts the focus on its control, and is summed up under its title", async () => {
  const { page } = await pageWith(
    `<form name="tree"><div role="alert"></div><label>Names <textarea name="names"></textarea></label><button>Save</button></form><p role="status"></p>`,
  );
  await page.evaluate(() => {
    const { bindPage, list, model, newEntry, rows, text } = ironwood;
    const line = model({ species: text({ required: true }) });
    const tree = newEntry(
      model({ names: list(text({ maxLength: 3 })), lines: rows(line, { title: "Lines", readOnly: true }) }),
      { locale: "en", values: { names: ["too long"], lines: [{ species: "" }] }, save: () => "Kept." },
    );
    bindPage(document, { tree }, { strict: true });
  });
  await page.getByRole("button", { name: "Save" }).click();
  expect(await page.evaluate(() => document.activeElement?.getAttribute("name"))).toBe("names");
  const summary = await page.locator("[role=alert]").innerText();
  expect(summary).toMatch(/^Names: At most 3 characters; this has 8\.$/m);
  expect(summary).toMatch(/^Lines: Row 1, Species: Enter a value\.$/m);
});

test("a command that is pressed from a field reads it tidied, and with its default back", async () => {
  const { page } = await pageWith(
    `<form name="tree"><input name="tag" aria-label="Tag"><input name="stems" aria-label="Stems"><button command="--tell">Tell</button></form>`,
  );
  await page.evaluate(() => {
    const { bindPage, command, integer, model, newEntry, text } = ironwood;
    const tree = newEntry(
      model({ tag: text({ tidy: { trim: true, letters: "upper" } }), stems: integer({ default: 2 }) }),
    );
    const told: unknown[] = [];
    Object.assign(kept, { told });
    bindPage(document, { tree, tell: command({ run: () => void told.push({ ...tree.values }) }) }, { strict: true });
  });
  await page.fill("[name=tag]", " ab-1 ");
  await page.getByRole("button").click();
  await page.fill("[name=stems]", "");
  await page.getByRole("button").click();
  expect(await page.evaluate(() => kept["told"])).toEqual([
    { tag: "AB-1", stems: 2 },
    { tag: "AB-1", stems: 2 },
  ]);
});

test("an element of a library that is no control to the platform is found by its name, whatever stands beside it", async () => {
  const { page } = await pageWith(
    `<form name="tree"><input name="tag"><plain-dial name="girth"></plain-dial><button>Save</button><input name="notes"></form>`,
  );
  const values = await page.evaluate(() => {
    const { bindPage, model, newEntry, text } = ironwood;
    const tree = newEntry(model({ tag: text(), girth: text(), notes: text() }), {
      values: { girth: "31" },
      save: () => "Kept.",
    });
    bindPage(document, { tree }, { strict: true });
    const dial = document.querySelector<HTMLElement & { value?: string }>("plain-dial")!;
    const shown = dial.value;
    dial.value = "45";
    dial.dispatchEvent(new Event("change", { bubbles: true }));
    return [shown, tree.values.girth];
  });
  expect(values).toEqual(["31", "45"]);
});

describe("what does not come from the keyboard", () => {
  test("pasted and dropped text is taken as typed", async () => {
    const { page } = await pageWith(
      `<p id="from" contenteditable>31,5</p><form name="tree"><label>Girth <input name="girth"></label></form>`,
    );
    await page.evaluate(() => {
      const { bindPage, model, newEntry, number } = ironwood;
      const tree = newEntry(model({ girth: number() }), { locale: "en" });
      Object.assign(kept, { tree });
      bindPage(document, { tree });
    });
    const girth = (): Promise<unknown> =>
      page.evaluate(() => (kept["tree"] as { values: { girth?: number } }).values.girth);
    await page.locator("#from").click({ clickCount: 3 });
    await page.keyboard.press("Control+C");
    await page.locator("[name=girth]").focus();
    await page.keyboard.press("Control+V");
    expect(await girth()).toBe(31.5);
    await page.fill("[name=girth]", "");
    await page.locator("#from").click({ clickCount: 3 });
    await page.locator("#from").dragTo(page.locator("[name=girth]"));
    expect([await page.locator("[name=girth]").inputValue(), await girth()]).toEqual(["31,5", 31.5]);
  });

  test("what the platform fills in by itself, before and after binding, is taken", async () => {
    const { page } = await pageWith(
      `<form name="tree"><label>Tag <input name="tag"></label><label>Girth <input name="girth"></label></form>`,
    );
    const values = await page.evaluate(() => {
      const { bindPage, model, newEntry, number, text } = ironwood;
      const [tag, girth] = document.querySelectorAll("input");
      tag!.value = "AB-0042";
      const tree = newEntry(model({ tag: text(), girth: number() }), { locale: "en" });
      bindPage(document, { tree });
      // Some browsers say only this when they fill a form in.
      girth!.value = "31.5";
      girth!.dispatchEvent(new Event("change", { bubbles: true }));
      return { ...tree.values };
    });
    expect(values).toEqual({ tag: "AB-0042", girth: 31.5 });
  });

  test("what the platform restores after going away and back is there, and is calculated from", async () => {
    const demo = await newDemo();
    try {
      const { page } = await newPage();
      await page.goto(`${demo.address}/measuring-desk/`);
      await page.fill("#centimetres", "157");
      await page.goto(`${demo.address}/label-maker/`);
      await page.goBack();
      await page.waitForFunction(() => document.querySelector("form")?.noValidate === true);
      expect([
        await page.locator("#centimetres").inputValue(),
        await page.locator("[data-name='desk.diameter']").innerText(),
      ]).toEqual(["157 cm", "50 cm"]);
    } finally {
      await demo.stop();
    }
  });
});

test("every control, bound and released 40 times, leaves no node, no listener and no entry behind", async () => {
  const { page } = await pageWith("");
  const released = controlList.filter(({ control }) => control !== "custom element");
  const kinds = released.map(({ kind }) => kind("{ required: true }"));
  await page.evaluate(`(() => {
    const { text, number, integer, decimal, boolean, date, time, dateTime, oneOf, someOf, file } = ironwood;
    kept.makers = { ${kinds.map((kind) => `${JSON.stringify(kind)}: () => ${kind}`).join()} };
  })()`);
  const left = await page.evaluate(
    async (specs) => {
      const { bindPage, model, newEntry } = ironwood;
      const makers = kept["makers"] as Record<string, () => unknown>;
      const listening = new Map<string, number>();
      const { addEventListener, removeEventListener } = EventTarget.prototype;
      const count = (type: string, more: number): void => void listening.set(type, (listening.get(type) ?? 0) + more);
      EventTarget.prototype.addEventListener = function (this: EventTarget, ...args) {
        if (
          this instanceof Document ||
          (this instanceof Element && this.closest("[data-offered],[data-step],[data-opens]") === null)
        )
          count(args[0], 1);
        addEventListener.apply(this, args as never);
      };
      EventTarget.prototype.removeEventListener = function (this: EventTarget, ...args) {
        if (
          this instanceof Document ||
          (this instanceof Element && this.closest("[data-offered],[data-step],[data-opens]") === null)
        )
          count(args[0], -1);
        removeEventListener.apply(this, args as never);
      };
      const entries: WeakRef<object>[] = [];
      const found: string[] = [];
      for (const [control, markup, kind] of specs) {
        document.body.innerHTML = `<form name="tree">${markup}</form>`;
        const before = document.querySelectorAll("*").length;
        for (let round = 0; round < 40; round++) {
          const tree = model({ it: makers[kind]!() as never });
          const entry = newEntry(tree, { locale: "en" });
          entries.push(new WeakRef(entry));
          const binding = bindPage(document, { tree: entry });
          document.querySelector<HTMLElement>("[name=it]")!.focus();
          void entry.check();
          binding.stop();
        }
        const now = document.querySelectorAll("*").length;
        if (now !== before) found.push(`${control}: ${now - before} nodes`);
      }
      for (const [type, more] of listening) if (more !== 0) found.push(`${type}: ${more} listeners`);
      document.body.innerHTML = "";
      for (let round = 0; round < 20; round++) {
        (globalThis as unknown as { gc?: () => void }).gc?.();
        await new Promise((resolve) => setTimeout(resolve, 20));
      }
      const alive = entries.filter((entry) => entry.deref() !== undefined).length;
      // The last may still be held by what the engine of the browser keeps of the function that ran.
      if ("gc" in globalThis && alive > 2) found.push(`${alive} of ${entries.length} entries`);
      return [entries.length, ...found];
    },
    released.map(({ control, markup }, place) => [control, markup, kinds[place]!] as const),
  );
  expect(left).toEqual([(controlList.length - 1) * 40]);
});
