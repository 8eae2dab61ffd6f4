import type { Browser } from "playwright-core";
export function launchBrowser(more?: readonly string[]): Promise<Browser>;
