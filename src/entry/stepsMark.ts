/** What tells steps from other things, so that a page which has none does not load what they are made of. */
export const stepsMark: unique symbol = Symbol("steps");
