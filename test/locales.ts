/** Every language that the runtime has formats for, found by asking for each of two and three letters. */
export function allLocales(): string[] {
  const letters = [..."abcdefghijklmnopqrstuvwxyz"];
  const two = letters.flatMap((a) => letters.map((b) => a + b));
  const three = two.flatMap((ab) => letters.map((c) => ab + c));
  return Intl.DateTimeFormat.supportedLocalesOf([...two, ...three]);
}
