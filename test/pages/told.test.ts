/** What is refused, left out or not understood is told: to the person in words, to the builder in one report. */
import { afterAll, describe, expect, test } from "@jest/globals";
import { closeBrowser, pageWith } from "./support.ts";

afterAll(closeBrowser);

const form = (inside: string): string => `<form name="card">${inside}</form>`;

describe("saving is one thing, whoever begins it", () => {
  test("a command that saves leads the focus to what is wrong, fills the summary and the status line", async () => {
    const { page } = await pageWith(
      form(`<div role="alert"></div><label>Tag <input name="tag"></label><label>Girth <input name="girth"></label>
        <button type="button" command="--keep">Keep</button>`) + `<p role="status"></p>`,
    );
    await page.evaluate(() => {
      const { bindPage, command, integer, model, newEntry, text } = ironwood;
      const card = newEntry(model({ tag: text({ required: true }), girth: integer() }, { title: "Card" }), {
        locale: "en",
        save: () => "Kept.",
      });
      bindPage(document, {
        card,
        keep: command({
          run: async () => {
            await card.save();
          },
        }),
      });
    });
    await page.click("button");
    await page.waitForFunction(() => (document.activeElement as HTMLInputElement).name === "tag");
    expect(await page.innerText("[role=alert]")).toMatch(/Tag/);
    expect(await page.innerText("[role=status]")).toBe("Not saved yet: 1 entry needs your attention.");
    await page.fill("[name=tag]", "AB-0042");
    await page.click("button");
    await page.waitForFunction(() => document.querySelector("[role=status]")!.textContent === "Kept.");
  });

  test("an entry that has nowhere to be saved is reported, and a press does not say that it was saved", async () => {
    const { page, errors } = await pageWith(
      form(`<input name="tag" aria-label="Tag"><button>Save</button>`) + `<p role="status"></p>`,
    );
    await page.evaluate(() => {
      const { bindPage, model, newEntry, text } = ironwood;
      bindPage(document, { card: newEntry(model({ tag: text() }), { locale: "en", afterSave: "startNew" }) });
    });
    expect(errors.join()).toMatch(
      /button that saves, and its entry has nowhere to be saved.*newEntry\(model, \{ save \}\)\. \[nowhereToSave\]\.$/s,
    );
    await page.fill("[name=tag]", "AB-0042");
    await page.click("button");
    await page.waitForFunction(() => document.querySelector("[role=status]")!.textContent !== "");
    expect(await page.innerText("[role=status]")).toMatch(/^Not saved: there is no place yet/);
    expect(await page.inputValue("[name=tag]")).toBe("AB-0042");
  });

  test("a page without a status line gets one for the first thing that is said, and the builder is told once", async () => {
    const { page, errors } = await pageWith(form(`<input name="tag" aria-label="Tag"><button>Save</button>`));
    await page.evaluate(() => {
      const { bindPage, model, newEntry, text } = ironwood;
      const card = newEntry(model({ tag: text() }), { locale: "en", save: () => "Kept." });
      kept["bound"] = bindPage(document, { card });
    });
    expect(await page.locator("[role=status]").count()).toBe(0);
    for (const tag of ["A", "B"]) {
      await page.fill("[name=tag]", tag);
      await page.click("button");
    }
    await page.waitForFunction(() => document.querySelector("[role=status]")?.textContent === "Kept.");
    expect(errors).toEqual([expect.stringMatching(/no place for what is said, so one was made for "Kept\."/)]);
    await page.evaluate(() => (kept["bound"] as { stop(): void }).stop());
    expect(await page.locator("[role=status]").count()).toBe(0);
  });
});

test("an answer that is out of date says so at a control that shows it, until it is right again or changed by hand", async () => {
  const { page } = await pageWith(
    form(`<label>Girth <input name="girth"></label><label>Age <input name="age"></label>`),
  );
  await page.evaluate(() => {
    const { bindPage, integer, model, newEntry } = ironwood;
    const desk = newEntry(model({ girth: integer({ required: true }), age: integer() }), { locale: "en" });
    bindPage(document, { card: desk });
    desk.fields.girth.enter("100");
    desk.answer("age", (row) => row.girth / 2);
  });
  const said = page.locator("[data-problem]");
  const described = (): Promise<string | undefined> =>
    page.evaluate(() => {
      const id = document.querySelector("[name=age]")!.getAttribute("aria-describedby");
      return id === null ? undefined : document.getElementById(id)!.textContent;
    });
  expect([await page.inputValue("[name=age]"), await described()]).toEqual(["50", undefined]);
  await page.fill("[name=girth]", "120");
  expect([await page.inputValue("[name=age]"), await described()]).toEqual(["50", "50 (out of date)"]);
  expect(await said.getAttribute("data-problem")).toBe("outOfDate");
  expect(await page.locator("[name=age]").getAttribute("aria-invalid")).toBeNull();
  await page.fill("[name=girth]", "100");
  expect(await said.count()).toBe(0);
  await page.fill("[name=girth]", "120");
  await page.fill("[name=age]", "60");
  expect([await said.count(), await described()]).toEqual([0, undefined]);
});

test("a multi-line text takes a number, as any text field does", async () => {
  const { page, errors } = await pageWith(form(`<textarea name="girth" aria-label="Girth"></textarea>`));
  await page.evaluate(() => {
    const { bindPage, integer, model, newEntry } = ironwood;
    kept["card"] = newEntry(model({ girth: integer() }), { locale: "en" });
    bindPage(document, { card: kept["card"] as never });
  });
  await page.fill("textarea", "1,234");
  await page.keyboard.press("Tab");
  expect(await page.evaluate(() => (kept["card"] as { values: { girth: number } }).values.girth)).toBe(1234);
  expect(errors).toEqual([]);
});

test("what is wrong with a calculated value stands at its first output, and is said where no focus can be led to it", async () => {
  const { page } = await pageWith(
    form(`<label>Boxes <input name="boxes"></label><label>Each <input name="each"></label>
      <output name="total"></output><output name="total" id="again"></output><button>Save</button>`) +
      `<p role="status"></p>`,
  );
  await page.evaluate(() => {
    const { bindPage, integer, model, newEntry } = ironwood;
    const orders = model({ boxes: integer({ required: true }), each: integer({ required: true }) })
      .calculated({ total: (row) => row.boxes * row.each })
      .rule("van", { shownAt: ["total"], holds: (row) => row.total <= 100 || "A van takes 100 plants." });
    kept["bound"] = bindPage(document, { card: newEntry(orders, { locale: "en", save: () => "Kept." }) });
  });
  const messages = page.locator("[data-problem]");
  await page.fill("[name=boxes]", "11");
  await page.fill("[name=each]", "10");
  expect(await messages.count()).toBe(0);
  await page.click("button");
  await page.waitForFunction(() => document.querySelector("[role=status]")!.textContent !== "");
  expect(await messages.allInnerTexts()).toEqual(["A van takes 100 plants."]);
  const described = await page.evaluate(
    () => document.getElementById(document.querySelector("output")!.getAttribute("aria-describedby")!)!.textContent,
  );
  expect(described).toBe("A van takes 100 plants.");
  expect(await page.innerText("[role=status]")).toMatch(/total: A van takes 100 plants\.$/i);
  await page.fill("[name=boxes]", "9");
  expect(await page.locator("[data-problem]").count()).toBe(0);
  expect(await messages.count()).toBe(0);
  await page.evaluate(() => (kept["bound"] as { stop(): void }).stop());
  expect(await page.locator("form span").count()).toBe(0);
});

describe("the language of the page", () => {
  test("is that of a grid, a list and copies too, and of their order, unless the table was given one", async () => {
    const { page } = await pageWith(
      `<div lang="de"><div style="height: 200px"><table data-name="stock" aria-label="Stock"></table></div>
        <output data-name="stock.total.height"></output></div>
       <div lang="de"><ul data-name="given"><template><li><output data-name="height"></output></li></template></ul></div>`,
    );
    await page.evaluate(() => {
      const { asGrid, asRows, bindPage, model, number, table, text, view } = ironwood;
      const plant = model({ tag: text({ required: true }), height: number() }, { key: "tag" });
      const rows = [
        { tag: "Zürich", height: 1234.5 },
        { tag: "Öland", height: 0.25 },
      ];
      const stock = table(plant, rows);
      bindPage(document, {
        stock: asGrid(view(stock, { orderBy: "tag" })),
        given: asRows(table(plant, rows, { locale: "en" })),
      });
      kept["stock"] = stock;
    });
    const shown = () => page.locator("tbody tr td:nth-child(3)").allInnerTexts();
    expect(await shown()).toEqual(["0,25", "1.234,5"]);
    expect(await page.innerText("output")).toBe("1.234,75");
    expect(await page.locator("li").allInnerTexts()).toEqual(["1,234.5", "0.25"]);
    await page.evaluate(() => ((kept["stock"] as { locale: string }).locale = "sv"));
    await page.waitForFunction(() => document.querySelector("tbody tr td:nth-child(3)")!.textContent !== "0,25");
    expect((await shown()).map((text) => text.replace(/\s/, " "))).toEqual(["1 234,5", "0,25"]);
  });
});

test("titles of fields, groups and columns may be functions of the language, and follow it while it changes", async () => {
  const { page } = await pageWith(
    form(
      `<div role="alert"></div><fieldset name="place"><input name="bed"></fieldset><input name="tag"><button>Save</button>`,
    ) + `<div style="height: 200px"><table data-name="stock" aria-label="Stock"></table></div><p role="status"></p>`,
  );
  await page.evaluate(() => {
    const { asGrid, bindPage, group, integer, model, newEntry, table, text, view } = ironwood;
    const said = (english: string, german: string) => (locale: string) => (locale.startsWith("de") ? german : english);
    const plant = model({
      tag: text({ title: said("Tag", "Etikett"), required: true }),
      place: group({ bed: integer({ title: said("Bed", "Beet"), required: true }) }, { title: said("Place", "Ort") }),
    });
    const card = newEntry(plant, { locale: "en", save: () => "Kept." });
    const stock = table(plant, [], { locale: "en" });
    Object.assign(kept, { card, stock });
    bindPage(document, {
      card,
      stock: asGrid(view(stock), { columns: ["place.bed", { name: "tag", title: said("Label", "Schild") }] }),
    });
  });
  await page.click("text=Save");
  const problems = (): Promise<string[]> => page.locator("[role=alert] li").allInnerTexts();
  const headings = (): Promise<string[]> => page.locator("thead th[data-heading]").allInnerTexts();
  await page.waitForFunction(() => document.querySelector("[role=alert] li") !== null);
  const titles = (): Promise<unknown> =>
    page.evaluate(() => (kept["card"] as { fields: { tag: { title: string } } }).fields.tag.title);
  expect([await problems(), await headings(), await titles()]).toEqual([
    ["Tag: Enter a value.", "Place: Bed: Enter a value."],
    ["Bed", "Label"],
    "Tag",
  ]);
  await page.evaluate(() => {
    for (const name of ["card", "stock"]) (kept[name] as { locale: string }).locale = "de";
  });
  await page.waitForFunction(() => document.querySelector("thead th[data-heading]")!.textContent === "Beet");
  expect([(await problems()).map((each) => each.replace(/: [^:]*$/, "")), await headings(), await titles()]).toEqual([
    ["Etikett", "Ort: Beet"],
    ["Beet", "Schild"],
    "Etikett",
  ]);
});

test("an address that a person typed never becomes a program: in a link it counts as blank, and no attribute of code is written", async () => {
  const { page } = await pageWith(
    `<form name="card"><label>Link <input name="link"></label></form><a id="link" href="#none">Link</a><img id="image" alt="">`,
  );
  await page.evaluate(() => {
    const { bindOutput, bindPage, model, newEntry, text } = ironwood;
    const card = newEntry(model({ link: text() }), { locale: "en" });
    bindPage(document, { card });
    bindOutput(document.querySelector("#link")!, card.fields.link, { attribute: "href" });
    bindOutput(document.querySelector("#image")!, card.fields.link, { attribute: "src", schemes: ["data"] });
    kept["refused"] = ["onclick", "ONCLICK", "style", "srcdoc"].map((attribute) => {
      try {
        bindOutput(document.querySelector("#link")!, card.fields.link, { attribute });
        return "bound";
      } catch (error) {
        return (error as { code: string }).code;
      }
    });
  });
  const links = async (text: string): Promise<unknown> => {
    await page.fill("[name=link]", text);
    return page.evaluate(() => [
      document.querySelector("#link")!.getAttribute("href"),
      document.querySelector("#image")!.getAttribute("src"),
    ]);
  };
  for (const harmful of [
    "javascript:alert(1)",
    " JaVaScRiPt:alert(1)",
    "java\tscript:alert(1)",
    "vbscript:x",
    "blob:x",
  ])
    expect([harmful, await links(harmful)]).toEqual([harmful, ["#none", null]]);
  expect(await links("data:image/gif,x")).toEqual(["#none", "data:image/gif,x"]);
  for (const right of ["https://thornbeck.example/beds/7", "mailto:jr@thornbeck.example", "tel:+441632960001"])
    expect(await links(right)).toEqual([right, null]);
  expect(await page.evaluate(() => kept["refused"])).toEqual(["wrongType", "wrongType", "wrongType", "wrongType"]);
});

describe("controls that carry values", () => {
  test("are judged in the page and in code: none, twice, missing, misspelled; a press of a wrong one blanks nothing", async () => {
    const { page, errors } = await pageWith(
      form(`
        <button type="button" name="sort" value="oak">Oak</button><button type="button" name="sort" value="okk">Oak</button>
        <input type="radio" name="bed" aria-label="Bed"><input type="radio" name="bed" value="n" aria-label="North"><input type="radio" name="bed" value="n" aria-label="North">
        <input type="checkbox" name="kind" value="shrubb" aria-label="Shrub">`) +
        `<p role="status"></p><input type="radio" id="loose" value="x">`,
    );
    await page.evaluate(() => {
      const { bindControl, bindPage, model, newEntry, oneOf } = ironwood;
      const card = newEntry(
        model({ sort: oneOf(["oak", "elm"]), bed: oneOf(["n", "s"]), kind: oneOf(["tree", "shrub"]) }),
        { locale: "en", values: { sort: "oak" } },
      );
      kept["card"] = card;
      bindPage(document, { card });
      bindControl(document.querySelector("#loose")!, card.fields.bed);
    });
    const report = errors.join("\n");
    for (const part of [
      '"okk" is not one of the choices of "sort". Did you mean "oak"?',
      'The page has no option of "sort" for "elm".',
      'This has no value, so it stands for none of the choices of "bed". The choices are: n, s.',
      'Two options of "bed" have the value "n".',
      '"shrubb" is not one of the choices of "kind". Did you mean "shrub"?',
      '"x" is not one of the choices of "bed".',
    ])
      expect(report).toContain(part);
    expect(report).not.toContain('no option of "kind"');
    await page.click("[value=okk]");
    expect(await page.evaluate(() => (kept["card"] as { values: { sort: string } }).values.sort)).toBe("oak");
  });

  test("radio buttons bound in code are a group without a name; a toggle keeps its icon, and one with a value has its title", async () => {
    const { page } = await pageWith(
      `<input type="radio" value="n" aria-label="North"><input type="radio" value="s" aria-label="South">
       <button type="button" id="icon"><svg width="8" height="8"></svg></button><button type="button" id="named" value="n"></button>`,
    );
    await page.evaluate(() => {
      const { bindControl, boolean, model, newEntry, oneOf } = ironwood;
      const beds = [
        { const: "n", title: "North bed" },
        { const: "s", title: "South bed" },
      ] as const;
      const card = newEntry(model({ bed: oneOf(beds), other: oneOf(beds), open: boolean() }), { locale: "en" });
      const bound = [
        bindControl([...document.querySelectorAll("[type=radio]")], card.fields.bed),
        bindControl(document.querySelector("#icon")!, card.fields.open),
        bindControl(document.querySelector("#named")!, card.fields.other),
      ];
      Object.assign(kept, { card, bound });
    });
    await page.check("[aria-label=North]");
    await page.check("[aria-label=South]");
    expect(await page.isChecked("[aria-label=North]")).toBe(false);
    await page.click("#icon");
    expect([await page.locator("#icon svg").count(), await page.getAttribute("#icon", "aria-pressed")]).toEqual([
      1,
      "true",
    ]);
    expect(await page.innerText("#named")).toBe("North bed");
    await page.evaluate(() => (kept["bound"] as { stop(): void }[]).forEach((each) => each.stop()));
    expect([await page.locator("[type=radio][name]").count(), await page.innerText("#named")]).toEqual([0, ""]);
  });
});

test("names in the page that lead nowhere are told, each where it stands and once", async () => {
  const { page, errors } = await pageWith(
    `<output data-name="cadr.tag"></output><output data-name="stok.length"></output><button command="clearCard">Clear</button>
     <button command="show-modal" commandfor="none">Show</button>` +
      form(
        `<fieldset name="plce"><input name="plot" aria-label="Plot"><input name="row" aria-label="Row"></fieldset><input name="noted" aria-label="Noted">`,
      ) +
      `<p role="status"></p>`,
  );
  await page.evaluate(() => {
    const { bindPage, boolean, group, model, newEntry, text } = ironwood;
    const card = newEntry(
      model({ tag: text(), place: group({ plot: text(), row: text() }), left: group({ noted: boolean() }) }),
    );
    bindPage(document, { card });
  });
  const report = errors.join("\n");
  for (const part of [
    'Nothing was given under the name "cadr" for data-name="cadr.tag". Did you mean "card"?',
    'Nothing was given under the name "stok" for data-name="stok.length".',
    'command="clearCard" is no command of HTML. One of your own begins with two hyphens: command="--clear-card".',
    'The model of "card" has no group "plce". Did you mean "place"?',
    'The model of "card" has no field "noted". Did you mean "left.noted"?',
  ])
    expect(report.split(part)).toHaveLength(2);
  expect(report).not.toMatch(/"plce\.plot"|show-modal|\n\.$/);
});

test("Enter in a combo box with nothing marked saves the form; on a new text it offers to add it, and one more Enter adds it", async () => {
  const { page } = await pageWith(
    form(`<label>Species <input name="species" role="combobox"></label><button>Save</button>`) +
      `<p role="status"></p>`,
  );
  await page.evaluate(() => {
    const { bindPage, choiceList, model, newEntry, oneOf } = ironwood;
    const species = choiceList(["Quercus robur"], { save: () => undefined });
    const card = newEntry(model({ species: oneOf(species) }), { locale: "en", save: (row) => `Kept ${row.species}.` });
    kept["card"] = card;
    bindPage(document, { card });
  });
  const said = (text: string) =>
    page.waitForFunction((wanted) => document.querySelector("[role=status]")!.textContent === wanted, text);
  await page.focus("input");
  await page.keyboard.type("quercus robur");
  await page.locator("[role=option]").first().waitFor();
  await page.keyboard.press("Enter");
  await said("Kept Quercus robur.");
  await page.fill("input", "");
  await page.keyboard.type("Salix alba");
  await page.getByText("Add “Salix alba”").waitFor();
  await page.keyboard.press("Enter");
  expect(await page.getAttribute("input", "aria-activedescendant")).not.toBeNull();
  await page.keyboard.press("Enter");
  await page.waitForFunction(() => (kept["card"] as { values: { species: string } }).values.species === "Salix alba");
  await page.keyboard.press("Enter");
  await said("Kept Salix alba.");
});

test("a problem that no control shows is said in the summary, else in the status line; groups tell fields of one name apart", async () => {
  const { page } = await pageWith(
    form(`<label>Tag <input name="tag"></label><output name="double"></output><button>Save</button>`) +
      `<form name="light"><div role="alert"></div><fieldset name="front"><label>Light <input name="light"></label></fieldset>
       <fieldset name="back"><label>Light <input name="light"></label></fieldset><button id="second">Save</button></form><p role="status"></p>`,
  );
  await page.evaluate(() => {
    const { bindPage, group, integer, model, newEntry, table, text } = ironwood;
    const plant = model({
      tag: text({ title: "Tag" }),
      left: integer({ readOnly: true, default: 7 }),
      double: integer(),
    })
      .calculated({ double: (row) => row.left * 2 })
      .rule("even", { shownAt: ["double"], holds: (row) => row.tag !== "odd" || "Twice of it is too much." });
    const stock = table(plant, [], { locale: "en", maxItems: 1 });
    const light = integer({ title: "Light", required: true });
    const lights = model({
      front: group({ light }, { title: "In front" }),
      back: group({ light }, { title: "Behind" }),
    });
    bindPage(document, {
      card: newEntry(plant, { locale: "en", save: (row) => stock.insert({ tag: row.tag }), afterSave: "startNew" }),
      light: newEntry(lights, { locale: "en", save: () => "Kept." }),
    });
  });
  const said = (text: string) =>
    page.waitForFunction((wanted) => document.querySelector("[role=status]")!.textContent === wanted, text);
  await page.fill("[name=tag]", "odd");
  await page.keyboard.press("Enter");
  await said("Double: Twice of it is too much.");
  for (const tag of ["A", "B"]) {
    await page.fill("[name=tag]", tag);
    await page.keyboard.press("Enter");
  }
  await said("There is room for 1 row, and it is taken.");
  await page.click("#second");
  await said("Not saved yet: 2 entries need your attention.");
  expect(await page.locator("[role=alert] li").allInnerTexts()).toEqual([
    "In front: Light: Enter a value.",
    "Behind: Light: Enter a value.",
  ]);
});
