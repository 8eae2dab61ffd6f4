import type { Page } from "playwright-core";
import type { Seeded } from "../seeded.ts";

/** Something that may happen to a page. @returns what it was, in words */
type Happening = () => Promise<string>;

export const pressing =
  (page: Page, random: Seeded, keys: readonly string[]): Happening =>
  async () => {
    const key = random.pick(keys);
    await page.keyboard.press(key);
    return key;
  };

export const typing =
  (page: Page, random: Seeded, texts: readonly string[]): Happening =>
  async () => {
    const text = random.pick(texts);
    await page.keyboard.type(text);
    return `"${text}"`;
  };

/** A change from elsewhere: one of the functions that the page has in `kept.other`, with a number. */
export const changing =
  (page: Page, random: Seeded): Happening =>
  async () => {
    const names = await page.evaluate(() => Object.keys(kept["other"] as object));
    const [name, number] = [random.pick(names), random.below(1_000)];
    await page.evaluate(
      ([which, by]) => void (kept["other"] as Record<string, (number: number) => unknown>)[which]!(by),
      [name, number] as const,
    );
    return `${name} ${number}`;
  };

/**
 * Has things happen at random, and looks after each of them whether the page is as it should be.
 *
 * @param happenings - each with how often it happens beside the others
 * @param faultsAfter - what is wrong with the page then
 * @returns what happened, in words
 */
export async function happenAtRandom(
  where: string,
  random: Seeded,
  happenings: readonly (readonly [weight: number, happening: Happening])[],
  faultsAfter: (did: string) => Promise<readonly string[]>,
): Promise<string> {
  const all = happenings.flatMap(([weight, happening]) => Array.from({ length: weight }, () => happening));
  const done: string[] = [];
  for (let step = 0; step < STEPS; step++) {
    done.push(await random.pick(all)());
    const faults = await faultsAfter(done.at(-1)!);
    if (faults.length > 0)
      throw new Error(`seed ${random.seed}, ${where}: ${faults.join("; ")}\nafter ${done.join(", ")}`);
  }
  return done.join(", ");
}

/** So much happens to each page. */
export const STEPS = 60;
