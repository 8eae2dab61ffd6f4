import type { Browser } from "playwright-core";
export function launchBrowser(more?: readonly string[]): Promise<Browser>;
export function launchProfile(folder: string): Promise<import("playwright-core").BrowserContext>;
