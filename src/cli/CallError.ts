/** The call itself is wrong: told in one line, exit code 2. */
export class CallError extends Error {
  override readonly name = "CallError";
}

/** @throws {@link CallError} for what is no language tag of BCP 47 */
export function requireLocale(locale: string): void {
  try {
    Intl.getCanonicalLocales(locale);
  } catch {
    throw new CallError(`--locale is not a BCP 47 tag, such as "de-DE". Received "${locale}".`);
  }
}
