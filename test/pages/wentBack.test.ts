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

/** Values that the platform's controls show otherwise than they are: between two steps, in capitals, in another order, by the second. */
const shownOtherwise = `<!doctype html><html lang="en"><title>Tree</title><form name="tree">
    <input name="height" type="range" min="0" max="10"><input name="leaf" type="color"><input name="seen" type="datetime-local">
    <input name="due" type="time"><select name="uses" multiple><option>hedge<option>street<option>park</select>
    <label><input type="checkbox" name="kinds" value="a">a</label><label><input type="checkbox" name="kinds" value="b">b</label></form>
  <script type="module">
    import "/harness.js";
    const { bindPage, instant, model, newEntry, number, someOf, text, time } = ironwood;
    const fields = { height: number({ step: 1 }), leaf: text({ format: "color" }), seen: instant(), due: time(),
      uses: someOf(["hedge", "street", "park"]), kinds: someOf(["a", "b"]) };
    const values = { height: 3.3, leaf: "#3A6B35", seen: "2026-11-23T14:30:20.500Z", due: "08:00:00", uses: ["park", "hedge"], kinds: ["b", "a"] };
    const entry = newEntry(model(fields), { locale: "en", values });
    bindPage(document, { tree: entry });
    Object.assign(kept, { entry, values });
  </script></html>`;

test("what the platform shows otherwise than it is, and nobody has touched, stays what it is", async () => {
  await page.goto(`${address}/otherwise`);
  await page.waitForFunction(() => document.readyState === "complete" && "entry" in kept);
  await page.evaluate(() => new Promise((shown) => setTimeout(shown, 50)));
  const [values, wanted, changed] = await page.evaluate(() => {
    const { values: now, changed: isChanged } = kept["entry"] as { values: object; changed: boolean };
    return [{ ...now }, kept["values"], isChanged];
  });
  expect([values, changed]).toEqual([wanted, false]);
});

beforeAll(async () => {
  server = createServer(({ url = "" }, response) => {
    const [, number, late] = /^\/control\/(\d+)(late)?$/.exec(url) ?? [];
    response.setHeader("content-type", url === "/harness.js" ? "text/javascript" : "text/html");
    // The library is the same in each of some hundred pages.
    if (url === "/harness.js") response.setHeader("cache-control", "max-age=3600");
    if (url === "/harness.js") response.end(harness);
    else if (url === "/otherwise") response.end(shownOtherwise);
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
  // An ordinary run goes back in each control one way, every second the one and the others the other; `npm run soak` in both.
  const isTried = (number: number): boolean =>
    process.env["SOAK"] !== undefined || (number % 2 === 0) === (late === "");
  const all = controlList.map((spec, number) => [spec.control, spec, number] as const);
  test.each(all.filter(([, , number]) => isTried(number)))("%s", async (__, spec, number) => {
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
  });
});
