import type { Language } from "../src/model/index.ts";

export function messagesPage(
  languages: readonly Language[],
  names: readonly string[],
  codes: readonly string[],
): string;
