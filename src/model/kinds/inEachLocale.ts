/** What is made of a locale, once for each; the last one is at hand, as nearly all fields of a page are in one. */
export function inEachLocale<T>(make: (locale: string) => T): (locale: string) => T {
  const all = new Map<string, T>();
  let last: string | undefined;
  let made: T;
  return (locale) => {
    if (locale !== last) {
      if (!all.has(locale)) all.set(locale, make(locale));
      made = all.get(locale)!;
      last = locale;
    }
    return made;
  };
}
