/**
 * The key under which a public object has what only the library may call. It is not exported to builders, so that what they see of a
 * field, a table or an entry is what they may use.
 */
export const internal: unique symbol = Symbol("internal");
