const plural = /* @__PURE__ */ new Intl.PluralRules("en");

/** A number with the word for what it counts. */
export const counted = (count: number | undefined, one: string, other: string): string =>
  `${count ?? 0} ${plural.select(count ?? 0) === "one" ? one : other}`;
