// The browser of the tests and screenshots: the one that TEST_BROWSER names, else the one inside the package.
import chromium from "@sparticuz/chromium";
import { chromium as driver } from "playwright-core";

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
  const packed = chromium.args.filter(
    (arg) => !arg.startsWith("--headless") && arg !== "--single-process" && arg !== "--no-zygote",
  );
  return driver.launch({ executablePath, headless: true, args: [...(named ? [] : packed), ...quiet, ...more] });
}
