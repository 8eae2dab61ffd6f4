import { IronwoodError } from "../errors/index.ts";

/** The language that was asked for, or the runtime's. @throws `wrongOption` for what is no BCP 47 tag */
export function localeFrom(locale: string | undefined): string {
  try {
    new Intl.NumberFormat(locale);
  } catch (cause) {
    throw new IronwoodError("wrongOption", "The locale is not a BCP 47 tag", {
      received: locale,
      expected: 'a tag such as "de-DE"',
      cause,
    });
  }
  return locale ?? Intl.DateTimeFormat().resolvedOptions().locale;
}

/** The time zone that was asked for, or the runtime's. @throws `wrongOption` for one that is not known */
export function timeZoneFrom(timeZone: string | undefined): string {
  try {
    return new Intl.DateTimeFormat("en", { timeZone }).resolvedOptions().timeZone;
  } catch (cause) {
    throw new IronwoodError("wrongOption", "The time zone is not known", {
      received: timeZone,
      expected: 'an IANA name such as "Europe/Berlin"',
      cause,
    });
  }
}
