import { mkdtempSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { isDeepStrictEqual } from "node:util";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { afterAll, afterEach, beforeAll, beforeEach } from "@jest/globals";
import type { Browser, BrowserContext, BrowserContextOptions, Page } from "playwright-core";
import type * as Core from "../../src/index.ts";
import type * as PageParts from "../../src/page/index.ts";
import type { faultsOf as FaultsOf } from "../anythingElse.ts";
import type { seeded as Seeded } from "../seeded.ts";
import type { newDifferences as NewDifferences } from "./differences.ts";
import type * as BrowserParts from "../../src/browser/index.ts";
import type * as StoreParts from "../../src/store/index.ts";
import type * as Testing from "../../src/testing/index.ts";
import { launchBrowser } from "../../scripts/browser.mjs";
import { startDemo } from "../../scripts/demo.mjs";

const cache = fileURLToPath(new URL("../../.cache/", import.meta.url));

/** What a page under test finds in `ironwood`: all of the library, and a place for what a test keeps. */
export type Ironwood = typeof Core & typeof PageParts & typeof BrowserParts & typeof StoreParts & typeof Testing;
declare global {
  var ironwood: Ironwood;

  var kept: Record<string, unknown>;

  /** What of a call fails, whatever it is given. */
  var faultsOf: typeof FaultsOf;

  /** What differs, in the page under test. */
  var newDifferences: typeof NewDifferences;

  /** Random choices in the page under test. */
  var seeded: typeof Seeded;
}

let browser: Browser | undefined;

export async function openBrowser(): Promise<Browser> {
  browser ??= await launchBrowser();
  return browser;
}

export async function closeBrowser(): Promise<void> {
  await browser?.close();
  browser = undefined;
}

/** A page that remembers what went wrong in it. */
export interface WatchedPage {
  readonly page: Page;
  /** Uncaught exceptions and errors on the console. A test that does not look at them fails when there are uncaught exceptions. */
  readonly errors: string[];
}

interface Opened {
  readonly context: BrowserContext;
  readonly uncaught: string[];
  isLookedAt: boolean;
}

/** The pages that the running test has opened. */
let opened: Opened[] = [];

beforeEach(() => {
  // What was opened for all tests of a file stays open until its browser is closed.
  opened = [];
});

afterEach(async () => {
  const all = opened;
  opened = [];
  const unexpected = all.flatMap(({ uncaught, isLookedAt }) => (isLookedAt ? [] : uncaught));
  for (const { context } of all) await context.close();
  if (unexpected.length > 0) throw new Error(`Uncaught in the page: ${unexpected.join("; ")}`);
});

export async function newPage(options: BrowserContextOptions = {}): Promise<WatchedPage> {
  const context = await (await openBrowser()).newContext({ viewport: { width: 1280, height: 800 }, ...options });
  const page = await context.newPage();
  const errors: string[] = [];
  const own: Opened = { context, uncaught: [], isLookedAt: false };
  opened.push(own);
  page.on("pageerror", (error) => {
    errors.push(error.message);
    own.uncaught.push(error.message);
  });
  page.on("console", (message) => {
    if (message.type() === "error") errors.push(message.text());
  });
  return {
    page,
    get errors() {
      own.isLookedAt = true;
      return errors;
    },
  };
}

/** The library as a classic script, for a page that is still being read. */
export const harnessScript = join(cache, "harness/harness.iife.js");

/** A page of the demo's address with the library loaded, for what only pages of an address may do. */
export async function pageAt(address: string): Promise<WatchedPage> {
  const watched = await newPage({ bypassCSP: true });
  await watched.page.goto(`${address}/site-survey/`);
  await watched.page.addScriptTag({ path: join(cache, "harness/harness.js"), type: "module" });
  await watched.page.waitForFunction(() => "ironwood" in globalThis);
  return watched;
}

/** A page with nothing but this markup in its body, and the library loaded. */
export async function pageWith(html: string, options: BrowserContextOptions = {}): Promise<WatchedPage> {
  const watched = await newPage(options);
  await watched.page.setContent(`<!doctype html><html lang="en"><title>test</title><body>${html}</body></html>`);
  await watched.page.addScriptTag({ path: join(cache, "harness/harness.js"), type: "module" });
  await watched.page.waitForFunction(() => "ironwood" in globalThis);
  return watched;
}

/** A page with this markup, in which something is bound before the test begins. */
export async function pageBound(
  html: string,
  bind: () => void,
  options: BrowserContextOptions = {},
): Promise<WatchedPage> {
  const watched = await pageWith(html, options);
  await watched.page.evaluate(bind);
  return watched;
}

/** The demo on a port and in a folder of its own. */
export async function newDemo(folder = mkdtempSync(join(tmpdir(), "thornbeck-")), port = 0) {
  const demo = await startDemo({ folder, port });
  return { ...demo, folder, port: Number(new URL(demo.address).port) };
}

/** The demo of all tests of a file, which ends, with the browser, after them. */
export function demoOfFile(): { readonly now: Awaited<ReturnType<typeof newDemo>> } {
  let demo: Awaited<ReturnType<typeof newDemo>> | undefined;
  beforeAll(async () => {
    demo = await newDemo();
  });
  afterAll(async () => {
    await demo?.stop();
    await closeBrowser();
  });
  return {
    get now() {
      return demo!;
    },
  };
}

/** What an accessibility engine finds wrong in a page, in short. */
export async function accessibilityViolations(page: Page): Promise<string[]> {
  await page
    .addScriptTag({ path: fileURLToPath(new URL("../../node_modules/axe-core/axe.min.js", import.meta.url)) })
    .catch(() =>
      // Under a strict Content-Security-Policy a script tag is refused; the debugger's own evaluation is not.
      page.evaluate(readFileSync(new URL("../../node_modules/axe-core/axe.min.js", import.meta.url), "utf8")),
    );
  return page.evaluate(async () => {
    const { axe } = globalThis as unknown as {
      axe: { run(): Promise<{ violations: { id: string; nodes: { html: string }[] }[] }> };
    };
    const { violations } = await axe.run();
    return violations.map(({ id, nodes }) => `${id}: ${nodes.map((node) => node.html).join(" | ")}`);
  });
}

/** Reads again until what was read is as wanted, or some seconds have passed. @returns what was read last, for `expect` */
export async function eventually<T>(read: () => T | Promise<T>, wanted: T): Promise<T> {
  const end = Date.now() + 5_000;
  for (;;) {
    const found = await read();
    if (isDeepStrictEqual(found, wanted) || Date.now() > end) return found;
    await new Promise((done) => setTimeout(done, 20));
  }
}
