/**
 * The Latin letter, a small one, that a key stands for in shortcuts: by what the layout types where that is a Latin letter, else by where
 * the key is, as platforms do with Cyrillic, Greek, Arabic and other layouts (`code` of UI Events).
 *
 * @returns the key itself where it is no letter
 */
export function keyLetter({ key, code = "" }: { readonly key: string; readonly code?: string | undefined }): string {
  if (/^[A-Za-z]$/.test(key)) return key.toLowerCase();
  const letter = /^Key([A-Z])$/.exec(code)?.[1];
  return letter !== undefined && /^\p{L}\p{M}*$/u.test(key) ? letter.toLowerCase() : key;
}
