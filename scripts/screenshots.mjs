// Makes docs/screenshots/ anew, from the demo data: `npm run screenshots`.
import { spawnSync } from "node:child_process";
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { launchBrowser } from "./browser.mjs";
import { buildExamples, startDemo } from "./demo.mjs";

const top = fileURLToPath(new URL("..", import.meta.url));
const shots = fileURLToPath(new URL("../docs/screenshots/", import.meta.url));
const folder = mkdtempSync(join(tmpdir(), "thornbeck-"));
const cards = [
  { tag: "AB-0038", species: "Alnus glutinosa", condition: 1, stems: 3, girth: 88 },
  {
    tag: "AB-0039",
    species: "Tilia cordata",
    condition: 2,
    hazards: ["cavity"],
    stems: 1,
    girth: 212.5,
    notes: "Old pruning wound.",
  },
  { tag: "AB-0040", species: "Quercus robur", condition: 1, stems: 1, girth: 141.25 },
];
writeFileSync(join(folder, "trees.ndjson"), cards.map((card) => `${JSON.stringify(card)}\n`).join(""));

await buildExamples();
const demo = await startDemo({ folder });
const browser = await launchBrowser();
const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, locale: "en-GB" });

async function open(path, colorScheme = "light") {
  const page = await context.newPage();
  page.on("pageerror", (error) => console.error(`${path}: ${error.message}`));
  await page.emulateMedia({ colorScheme });
  await page.goto(`${demo.address}/${path}`);
  await page.waitForSelector("#saved > li");
  return page;
}

const shot = (page, name, options = {}) => page.screenshot({ path: join(shots, `${name}.png`), ...options });

const page = await open("tree-card/");
await shot(page, "tree-card-empty");
await page.fill("#tag", "oak");
await page.fill("#girth", "about 90");
await page.click("text=Failing");
await page.click("text=Save card");
await page.waitForSelector("[data-problem]");
await shot(page, "tree-card-problems");
await page.fill("#tag", "AB-0041");
await page.selectOption("#species", "Fagus sylvatica");
await page.fill("#girth", "96.5");
await page.fill("#notes", "Bark beetle in the upper crown.");
await page.press("#girth", "Enter");
await page.waitForSelector("#saved > li >> text=AB-0041");
await shot(page, "tree-card-saved");
const german = await open("tree-card/de.html", "dark");
await german.fill("#girth", "31,5");
await german.check("[name=fenced]");
await german.press("#girth", "Tab");
await shot(german, "tree-card-german-dark");

async function openDesk(path, colorScheme = "light") {
  const page = await context.newPage();
  page.on("pageerror", (error) => console.error(`${path}: ${error.message}`));
  await page.emulateMedia({ colorScheme });
  await page.goto(`${demo.address}/${path}`);
  await page.waitForFunction(() => document.querySelector("form").noValidate);
  return page;
}

const desk = await openDesk("measuring-desk/");
await desk.fill("#measured-on", "23/11/2026");
await desk.fill("#centimetres", "157");
await desk.click("text=Take the age down");
await desk.fill("#centimetres", "163.5");
await desk.focus("#language");
await desk.evaluate(() => document.documentElement.scrollIntoView());
await shot(desk, "measuring-desk");
await desk.selectOption("#language", "ar-EG");
await desk.evaluate(() => document.documentElement.scrollIntoView());
await shot(desk, "measuring-desk-arabic");

const label = await openDesk("label-maker/", "dark");
await label.fill("#tag", "ab-0042");
await label.locator("#edge").fill("#8a5a2b");
await label.fill("#wording", "For the school\nat Thornbeck");
await label.fill("#species", "Quercus robur");
await label.fill("#copies", "12");
await label.fill("#price", "2.35");
await label.locator("#species").focus();
await label.locator("#species").press("ArrowDown");
await label.waitForSelector("[role=option]:visible");
await label.evaluate(() => document.documentElement.scrollIntoView());
await shot(label, "label-maker-dark");

const survey = await openDesk("site-survey/");
await survey.fill("#plot", "17");
await survey.press("#plot", "Tab");
await survey.click("text=Next");
await survey.waitForSelector("[data-problem=valueMissing]");
await shot(survey, "site-survey-wrong");
await survey.selectOption("#behaviour", "slow");
await survey.fill("#plot", "P-13");
await survey.fill("#surveyor", "CB");
await survey.check("[value='River bank']");
await survey.fill("#surveyed-on", "23/11/2026");
await survey.click("text=Next");
await survey.waitForSelector("[data-problem=checking]");
await survey.waitForSelector("[data-problem=plotIsFree]");
await shot(survey, "site-survey-refused");
await survey.selectOption("#behaviour", "prompt");
await survey.fill("#plot", "P-17");
await survey.click("text=Next");
await survey.waitForSelector("[data-name='route.ground']:not([hidden])");
await survey.emulateMedia({ colorScheme: "dark" });
await survey.check("[value=sand]");
await survey.fill("#slope", "25");
await survey.check("[name=wet]");
await survey.check("[value=ditch]");
await shot(survey, "site-survey-corrected-dark");
await survey.emulateMedia({ colorScheme: "light" });
await survey.click("text=Next");
await survey.fill("#area", "900");
await survey.selectOption("#purpose", "avenue");
await survey.selectOption("#species", "Pinus sylvestris");
await survey.fill("#trees", "40");
await survey.click("text=Next");
await survey.waitForSelector("[data-name='route.access']:not([hidden])");
await survey.click("text=Next");
await survey.waitForSelector("[data-name='route.finish']:not([hidden])");
await shot(survey, "site-survey-look-over");

const outside = await openDesk("field-notes/");
for (const [category, subject, text] of [
  ["Pruning", "Old oak at the gate", "Two dead limbs over the path.\nTo be taken off before the frost."],
  ["Water", "Pond on the hill side", "A hand lower than in October."],
]) {
  await outside.fill("#written-on", "2026-11-27");
  await outside.selectOption("#category", { label: category });
  await outside.fill("#subject", subject);
  await outside.fill("#text", text);
  await outside.fill("#by", "CB");
  await outside.click("[type=submit]");
  await outside.waitForSelector(`.notes strong:has-text("${subject}")`);
}
await outside.fill("#subject", "Lime avenue");
await outside.fill("#text", "Aphids on the second tree from the road.");
await outside.waitForTimeout(500);
await outside.close();
const returned = await openDesk("field-notes/");
await returned.waitForSelector("[data-draft=take]:visible");
await returned.click(".notes summary >> nth=0");
await shot(returned, "field-notes-draft");

async function openRecords(path, colorScheme = "light") {
  const page = await context.newPage();
  page.on("pageerror", (error) => console.error(`${path}: ${error.message}`));
  await page.emulateMedia({ colorScheme });
  await page.goto(`${demo.address}/${path}`);
  await page.waitForSelector("#stock > tbody > tr[aria-rowindex='8']");
  return page;
}

const book = await openRecords("stock-book/");
await book.click("#stock tr[aria-rowindex='4'] [data-mark]");
await book.click("#stock tr[aria-rowindex='6'] [data-mark]", { modifiers: ["Shift"] });
await book.click("#stock td:has-text('MA-0013')");
for (const key of ["ArrowRight", "ArrowRight", "ArrowRight", "ArrowRight"]) await book.keyboard.press(key);
await book.keyboard.type("20");
await book.keyboard.press("Enter");
await book.click("#stock td:has-text('GA-0007')");
for (const key of ["ArrowRight", "ArrowRight"]) await book.keyboard.press(key);
await book.keyboard.type("500");
await book.keyboard.press("Tab");
await book.keyboard.press("Escape");
await book.keyboard.press("ArrowLeft");
await shot(book, "stock-book-problem");

// The same plants are changed in two windows.
const here = await openRecords("stock-book/");
const elsewhere = await openRecords("stock-book/");
async function enter(page, tag, values) {
  await page.click(`#stock td:has-text('${tag}')`);
  for (const [field, value] of Object.entries(values)) await page.fill(`#plant [name=${field}]`, value);
  await page.click("#plant [type=submit]");
}
await enter(here, "AA-0001", { count: "10", notes: "to be moved to the north wall" });
await enter(elsewhere, "AA-0001", { count: "20", notes: "sold to the park" });
await enter(here, "BA-0002", { height: "80" });
await elsewhere.click("#stock tr[aria-rowindex='3'] [data-mark]");
await elsewhere.click("[command='--remove-selected']");
await elsewhere.click("[command='--save']");
await here.waitForSelector("[data-kept=conflict]");
await here.focus("[command='--choose']");
await here.keyboard.press("Enter");
await here.waitForSelector("dialog[open]");
await shot(here, "stock-book-choose");

const million = await openRecords("stock-book/", "dark");
await million.click("[command='--make-rows']");
await million.waitForFunction(
  () => document.querySelector("main > [role=status]").textContent === "1,000,000 rows were made.",
  undefined,
  { timeout: 120_000 },
);
await million.fill("[data-name='stock.search']", "quercus reserved");
await million.waitForFunction(() => document.querySelector("#shown").textContent.includes(" of "), undefined, {
  timeout: 60_000,
});
await million.click("th:has-text('Plants')");
await million.keyboard.press("Enter");
await million.click("#stock tr[aria-rowindex='5'] td >> nth=3");
await million.keyboard.press("F2");
await shot(million, "stock-book-million-dark");

const orders = await openRecords("planting-orders/");
const colleague = await openRecords("planting-orders/");
await orders.selectOption("#orders", "2");
await orders.fill("[name=amount]", "4");
await orders.click("#stock tr[aria-rowindex='2'] [data-mark]");
await orders.click("#stock tr[aria-rowindex='7'] [data-mark]", { modifiers: ["Shift"] });
await orders.click("[command='--allot-chosen']");
// Somebody else changes, in a second window, what is being changed here.
const task = "#tasks li:nth-of-type(2) [name=what]";
await colleague.selectOption("#orders", "2");
await orders.fill(task, "Wrap all the crowns");
await colleague.fill(task, "Wrap the crowns, and the roots");
await colleague.press(task, "Tab");
await orders.waitForSelector("[data-conflict] button");
await shot(orders, "planting-orders");

await terminal(
  "fill-entry",
  ["fill", "entry", "examples/tree-card/nursery.ts", "--to", join(folder, "cards", "card.ndjson")],
  "oak 42\nAB-0042\n1\n2\n1, 2\n\nabout 90\n90\n\nno\n\n",
);
await terminal("check-page", [
  "check",
  "page",
  "test/fixtures/misspelled.html",
  "--model",
  "examples/tree-card/desk.ts",
]);
await terminal("show-demo", ["show", "demo", "--locale", "de", "--folder", join(folder, "cards")]);

/** What a command prints, in its colours, as a terminal shows it. */
async function terminal(name, args, input) {
  if (input !== undefined) mkdirSync(join(folder, "cards"), { recursive: true });
  const { stdout } = spawnSync(process.execPath, ["dist/cli/main.js", ...args], {
    cwd: top,
    input,
    encoding: "utf8",
    env: { ...process.env, FORCE_COLOR: "1" },
  });
  const page = await context.newPage();
  await page.setContent(`<style>body{margin:0;background:#171b1a;color:#dfe5e1;font:15px/1.45 "DejaVu Sans Mono",monospace}pre{margin:20px 24px;white-space:pre-wrap}
    .c1{font-weight:700}.c2{color:#93a19a}.c31{color:#ff9d8a}.c32{color:#8fd3a8}.c33{color:#e6c66f}.c36{color:#8cc7e0}</style><pre></pre>`);
  await page.evaluate(
    ([command, text]) => {
      const pre = document.querySelector("pre");
      pre.append(`$ ironwood ${command}\n`);
      const escape = String.fromCharCode(27);
      let codes = [];
      for (const part of text.split(new RegExp(`(${escape}\\[\\d+m)`))) {
        const code = new RegExp(`^${escape}\\[(\\d+)m$`).exec(part)?.[1];
        if (code === undefined) {
          const span = document.createElement("span");
          span.className = codes.map((each) => `c${each}`).join(" ");
          span.textContent = part;
          pre.append(span);
        } else codes = ["22", "39", "0"].includes(code) ? [] : [...codes, code];
      }
    },
    [
      args.map((arg) => (arg.startsWith(folder) ? (input === undefined ? "cards" : "card.ndjson") : arg)).join(" "),
      stdout.replaceAll(join(folder, "cards"), "cards"),
    ],
  );
  await page.setViewportSize({ width: 1280, height: 400 });
  await shot(page, name, { fullPage: true });
}

await browser.close();
await demo.stop();
rmSync(folder, { recursive: true, force: true });
