export function roomsPicture(source: string): string;
