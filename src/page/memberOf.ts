/**
 * A member of a form, or of what may be one, by its name. A form is asked nothing in any other way: a control called `id`, `title`,
 * `length` or `elements` hides the form's own member of that name (HTML, "The form element": what has a name in it comes first).
 * And to find out whether one does, the platform lists all names in a form when the first of its members is looked at, whichever
 * that is.
 *
 * @returns what `thing[name]` would be if no control had that name
 * @example memberOf(form, "getAttribute")("name")
 */
export function memberOf<T extends object, K extends keyof T>(thing: T, name: K): T[K] {
  const member: unknown = Reflect.get(Object.getPrototypeOf(thing) as object, name, thing);
  return (typeof member === "function" ? member.bind(thing) : member) as T[K];
}

/** The name of a form; blank when it has none, or where there is no form. */
export const formName = (form: HTMLFormElement | null): string =>
  (form && memberOf(form, "getAttribute")("name")) ?? "";
