/** What is made of a locale, kept until another is asked for: nearly all fields of a page are in one. */
export function inLastLocale<T>(make: (locale: string) => T): (locale: string) => T {
  let last: string | undefined;
  let made: T;
  return (locale) => {
    if (locale !== last) {
      made = make(locale);
      last = locale;
    }
    return made;
  };
}
