import type { MessageFacts } from "./words.ts";

/** Signs that turn the direction of a text (UAX #9), and letters that are written from right to left. */
const turning = /[\u202A-\u202E\u2066-\u2069]/;
const fromRight = /[\u0590-\u08FF\uFB1D-\uFDFF\uFE70-\uFEFC]/;
const languagesFromRight = /^(ar|ckb|dv|fa|he|ks|ps|sd|ug|ur|yi)\b/i;

/**
 * What people typed, for a place in a sentence: a text that runs in another direction is isolated there (U+2068 and U+2069 of UAX #9), so
 * that it can't turn round what stands beside it. Isolates that it holds itself are taken out, since they could end this one.
 */
function isolated(text: string, locale: string): string {
  const turns = turning.test(text) || (fromRight.test(text) && !languagesFromRight.test(locale));
  return turns ? `\u2068${text.replaceAll(/[\u2066-\u2069]/g, "")}\u2069` : text;
}

/** Facts with every text isolated that may be a person's. */
export function isolatedFacts(facts: MessageFacts, locale: string): MessageFacts {
  const all = Object.entries(facts) as [string, unknown][];
  if (!all.some(([, fact]) => typeof fact === "string" && (turning.test(fact) || fromRight.test(fact)))) return facts;
  return Object.fromEntries(
    all.map(([name, fact]) => [name, typeof fact === "string" ? isolated(fact, locale) : fact]),
  );
}
