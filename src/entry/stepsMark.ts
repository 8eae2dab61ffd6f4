/** Marks an object as steps, so that a page without steps need not load the class to recognise them. */
export const stepsMark: unique symbol = Symbol("steps");
