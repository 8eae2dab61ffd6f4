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

export async function launchBrowser(more = []) {
  const named = process.env.TEST_BROWSER;
  const executablePath = named || (await chromium.executablePath());
  const quiet = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--no-first-run",
  ];
  const packed = chromium.args.filter((arg) => !arg.startsWith("--headless") && !unwanted.has(arg));
  return driver.launch({ executablePath, headless: true, args: [...(named ? [] : packed), ...quiet, ...more] });
}
