/** What rows, drafts and columns of an older model are called, and how they are read. */
export interface Formerly {
  /** By the name of a field of now, the names that it had. */
  readonly fields: ReadonlyMap<string, readonly string[]>;
  /** Gives fields of now of a row as it was kept. */
  readonly read?: ((older: Readonly<Record<string, unknown>>) => object) | undefined;
}

/** What is said of an older model, as the library keeps it. */
export function formerlyOf({
  fields = {},
  read,
}: {
  readonly fields?: Readonly<Record<string, string | readonly string[] | undefined>> | undefined;
  readonly read?: Formerly["read"];
}): Formerly {
  return { fields: new Map(Object.entries(fields).map(([name, former]) => [name, [former ?? []].flat()])), read };
}

/** The names that a field had, the last one first. */
export const formerNames = (all: readonly Formerly[], name: string): readonly string[] =>
  all.flatMap(({ fields }) => fields.get(name) ?? []).reverse();
