import { IronwoodError, requireArgument } from "../errors/index.ts";

/** Refuses a call to what was stopped. @param where - the table @throws `keptTable` */
export function requireKept(isKept: boolean, call: string, place: string, where: string): void {
  if (isKept) return;
  throw new IronwoodError("keptTable", `${call} was called, and these rows are kept in ${place} no more`, {
    where,
    expected: "keep() again, which reads them anew",
  });
}

/** Refuses what is no way to end a conflict. @throws `wrongType` */
export function requireChoice(choice: unknown): void {
  const isChoice = choice === "mine" || choice === "theirs" || (typeof choice === "object" && choice !== null);
  requireArgument(isChoice, "resolve", choice, '"mine", "theirs", or the fields as they are to be');
}
