export const importDirections: unknown;
export const allowed: Readonly<Record<string, ReadonlySet<string>>>;
