/** Who goes back to a page finds what they had entered, and what they see is what the entry holds, for every control. */
import { readFileSync } from "node:fs";
import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { fileURLToPath } from "node:url";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { controlList, definePlainField } from "./controlList.ts";
import { closeBrowser, newPage } from "./support.ts";

const harness = readFileSync(fileURLToPath(new URL("../../.cache/harness/harness.js", import.meta.url)));
let server: Server;
let address: string;
let page: Page;

/** A page with one control, which binds it as soon as the script is there; `late` after all is loaded. */
function pageOf(number: number, late: boolean): string {
  const { markup, kind, shown, standard, other } = controlList[number]!;
  const bind = `
    const { model, newEntry, bindPage, Decimal, text, number, integer, decimal, boolean, date, time, dateTime, oneOf, someOf, file } = ironwood;
    const entry = newEntry(model({ it: ${kind(`{ default: ${standard} }`)} }), { locale: "en-US", save: () => {} });
    bindPage(document, { tree: entry });
    const same = (a, b) => a instanceof File ? a?.name === b?.name : JSON.stringify(a) === JSON.stringify(b);
    Object.assign(kept, {
      shown: () => ((all, el) => ${shown})(...[[...document.querySelectorAll("[name=it]")]].map((all) => [all, all[0]])[0]),
      holds: () => same(entry.values.it, ${other}) ? "other" : same(entry.values.it, ${standard}) ? "standard" : entry.values.it,
    });`;
  return `<!doctype html><html lang="en"><title>Tree</title>
    <form name="tree"><button type="button" id="before">before</button>${markup}</form>
    <script type="module">
      import "/harness.js";
      (${definePlainField.toString()})();
      const bind = () => { ${bind} };
      ${late ? 'addEventListener("load", () => setTimeout(bind, 50));' : "bind();"}
    </script></html>`;
}

beforeAll(async () => {
  server = createServer(({ url = "" }, response) => {
    const [, number, late] = /^\/control\/(\d+)(late)?$/.exec(url) ?? [];
    response.setHeader("content-type", url === "/harness.js" ? "text/javascript" : "text/html");
    if (url === "/harness.js") response.end(harness);
    else response.end(number === undefined ? "<title>away</title>" : pageOf(Number(number), late !== undefined));
  });
  await new Promise<void>((ready) => server.listen(0, "127.0.0.1", ready));
  address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  ({ page } = await newPage());
});
afterAll(async () => {
  await closeBrowser();
  server.closeAllConnections();
  await new Promise((closed) => server.close(closed));
});

/** What a browser does not bring back: secrets, files, what is no field of the platform, and what is shown with `autocomplete="off"`. */
const notRestored = /password|picked file|toggle|custom element|combo box|datalist|spinner of a list/;

describe.each([
  ["while the page loads", ""],
  ["after it is loaded", "late"],
])("bound %s", (_, late) => {
  test.each(controlList.map((spec, number) => [spec.control, spec, number] as const))(
    "%s",
    async (__, spec, number) => {
      const bound = (): Promise<unknown> => page.waitForFunction(() => "kept" in globalThis && "shown" in kept);
      await page.goto(`${address}/control/${number}${late}`);
      await bound();
      await spec.act(page);
      await page.locator("#before").focus();
      await page.goto(`${address}/away`);
      await page.goBack();
      await bound();
      await page.waitForFunction(() => document.readyState === "complete");
      const [shown, holds] = await page.evaluate(() => [
        (kept["shown"] as () => unknown)(),
        (kept["holds"] as () => unknown)(),
      ]);
      const standard = [spec.standardShown, "standard"];
      const other = [spec.otherShown, "other"];
      // What is restored before this is bound can be what the markup says too, and is then not told from it.
      const isBack = late === "" ? !notRestored.test(spec.control) : holds === "other";
      expect([shown, holds]).toEqual(isBack ? other : standard);
    },
  );
});
