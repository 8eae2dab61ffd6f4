/** A number with the word for what it counts. */
export const counted = (count = 0, one: string, other: string): string => `${count} ${count === 1 ? one : other}`;
