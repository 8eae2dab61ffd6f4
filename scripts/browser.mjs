// The browser of the tests and screenshots: the one that TEST_BROWSER names, else the one inside the package.
import chromium from "@sparticuz/chromium";
import { chromium as driver } from "playwright-core";

/** Flags of the package that would turn off what the tests prove, or make it one process for all. */
const unwanted = new Set([
  "--single-process",
  "--no-zygote",
  "--disable-web-security",
  "--allow-running-insecure-content",
  "--disable-site-isolation-trials",
]);

/** Where the browser is; the one inside the package is unpacked at the first question, which only one process may ask at a time. */
export const browserPath = async () => process.env.TEST_BROWSER || (await chromium.executablePath());

async function launching(more) {
  const named = process.env.TEST_BROWSER;
  const executablePath = await browserPath();
  const quiet = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--no-first-run",
  ];
  const packed = chromium.args.filter((arg) => !arg.startsWith("--headless") && !unwanted.has(arg));
  return { executablePath, headless: true, args: [...(named ? [] : packed), ...quiet, ...more] };
}

export const launchBrowser = async (more = []) => driver.launch(await launching(more));

/** Starts a browser that keeps what pages keep in a folder, as a person's browser does. */
export const launchProfile = async (folder) => driver.launchPersistentContext(folder, await launching([]));
