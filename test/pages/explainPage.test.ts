/** One call lists everything that is bound in a page: path, kind, element and value; and what is not, and why. */
import { afterAll, expect, test } from "@jest/globals";
import { closeBrowser, pageBound } from "./support.ts";

afterAll(closeBrowser);

test("every form, field, output, command, list and grid by its path; what is stopped is not there any more", async () => {
  const { page, errors } = await pageBound(
    `<form name="card"><input name="tag"><fieldset name="place"><input name="plot"></fieldset>
       <output name="length"></output><button command="--clear">Clear</button></form>
     <p data-name="card.tag"></p><select id="plants"></select><div><table id="stock"></table></div>`,
    () => {
      const { bindGrid, bindList, bindPage, command, group, integer, model, newEntry, table, text, view } = ironwood;
      const card = newEntry(
        model(
          { tag: text({ required: true }), place: group({ plot: integer() }), secret: text({ writeOnly: true }) },
          { title: "Tree card" },
        ).calculated({ length: (t) => t.tag.length }),
        { locale: "en", values: { tag: "AB-0042", secret: "oak" } },
      );
      const clear = command({ title: "Clear", allowed: () => "Nothing to clear.", run: () => undefined });
      const stock = view(table(model({ tag: text() }, { key: "tag" }), [{ tag: "A" }, { tag: "B" }]));
      const list = bindList(document.querySelector<HTMLSelectElement>("#plants")!, stock);
      const grid = bindGrid(document.querySelector<HTMLTableElement>("#stock")!, stock);
      Object.assign(kept, { list, grid, page: bindPage(document, { card, clear }) });
    },
  );
  const told = (): Promise<string> => page.evaluate(() => String(ironwood.explain(document)));
  expect(await told()).toBe(
    [
      "page: 9 bound, 1 not as it should be",
      '  plants: list, <select id="plants">, 2 rows',
      '  stock: grid, <table id="stock">, 2 rows',
      '  card: form, <form name="card">, Tree card, not changed',
      '    card.tag: control, <input name="tag">; text, AB-0042',
      '    card.place.plot: control, <input name="plot">; integer, blank',
      "    card.secret: nothing in the form shows it; text, a secret",
      '    card.length: output, <output name="length">; text, 7',
      '  card.tag: output, <p data-name="card.tag">, text, AB-0042',
      '  --clear: command, <button command="--clear">, Nothing to clear.',
      "  not as it should be",
      '    <form name="card">: This field has no control in the form "card": "secret" (Secret). [noControl]',
    ].join("\n"),
  );
  expect(errors).toHaveLength(1);
  await page.fill("[name=tag]", "AB-0043");
  expect(await told()).toContain("Tree card, changed");
  await page.evaluate(() => {
    for (const name of ["list", "grid", "page"]) (kept[name] as { stop(): void }).stop();
  });
  expect(await told()).toBe("page: 0 bound");
});
