/** What a Decimal is known by, to whoever does not make one: a page with no exact numbers has no arithmetic for them. */
export const decimalMark = Symbol("decimal");
