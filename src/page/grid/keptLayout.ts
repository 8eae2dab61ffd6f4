import type { GridLayout } from "../../control/index.ts";

const place = (name: string): string => `ironwood layout ${name}`;

/** The layout that was kept in this browser under a name. What can't be read is none. */
export function keptLayout(name: string | undefined): Partial<GridLayout> | undefined {
  if (name === undefined) return undefined;
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(place(name)) ?? "null");
    return typeof kept === "object" && kept !== null ? kept : undefined;
  } catch {
    return undefined;
  }
}

/** Keeps a layout; where the browser keeps nothing, it lasts as long as the page. */
export function keepLayout(name: string | undefined, layout: GridLayout): void {
  if (name === undefined) return;
  try {
    localStorage.setItem(place(name), JSON.stringify(layout));
  } catch {
    // The grid works all the same.
  }
}
