import { requireArgument } from "../errors/index.ts";

/** Refuses what is no place for drafts. @throws `wrongType` */
export function requireDrafts(call: string, options: object): void {
  const { drafts } = options as { readonly drafts?: object | null };
  const isPlace = drafts === undefined || (typeof drafts === "object" && drafts !== null && "hold" in drafts);
  requireArgument(isPlace, call, drafts, "as drafts a place for them, as browserDrafts() gives it");
}
