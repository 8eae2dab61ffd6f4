/** The part of the CSV reader that is used here. Its own types would bring those of one platform with them. */
declare module "papaparse" {
  interface Parsed {
    readonly data: readonly (readonly string[])[];
    readonly meta: { readonly cursor: number };
  }
  const papa: {
    readonly Parser: new (options: { readonly delimiter: string; readonly newline?: string }) => {
      /** @param ignoreLast - whether the last row may go on in what is read next */
      parse(text: string, baseIndex: number, ignoreLast: boolean): Parsed;
    };
  };
  export default papa;
}
