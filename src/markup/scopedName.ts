/**
 * The full name of what stands in scopes. A name that has the scopes' names already, all of them or the innermost, is not given them
 * twice.
 *
 * @param scopes - the names of the fieldsets round it, from the outermost to the innermost; those without a name left out
 */
export function scopedName(own: string, scopes: readonly string[]): string {
  if (own === "") return "";
  const missing = scopes.findIndex((_, place) => own.startsWith(`${scopes.slice(place).join(".")}.`));
  return [...(missing < 0 ? scopes : scopes.slice(0, missing)), own].join(".");
}
