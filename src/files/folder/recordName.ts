import filenamify from "filenamify";
import { StoreError } from "../../store/index.ts";

/** Bytes of a name, less those for a number and the ending: file systems hold 255. */
const LONGEST = 200;

/** A field that a file is named from, as it is shown. */
export interface NamePart {
  readonly title: string;
  readonly text: string;
}

/**
 * A file name from values: legal on Windows, macOS and Linux, never outside its folder, never hidden, never a device's
 * reserved name.
 *
 * @param isNumbered - whether records with one name are told apart by numbers: then a name may be of signs only
 * @throws {@link StoreError} when a part is blank, since two records would get one name
 */
export function recordName(parts: readonly NamePart[], isNumbered = false): string {
  const blank = parts.filter(({ text }) => text.trim() === "").map(({ title }) => title);
  if (blank.length > 0)
    throw new StoreError("refused", `The file can't be named: ${blank.join(" and ")} must be given.`);
  const joined = parts.map(({ text }) => text.trim().normalize("NFC")).join(" ");
  // A leading dot hides a file; trailing dots and blanks are lost on Windows.
  const name = shortened(filenamify(joined, { replacement: "_", maxLength: 300 }))
    .replace(/^[.\s]+/, "_")
    .replace(/[.\s]+$/, "");
  const letters = name.replace(/[_\s]/g, "");
  if (letters === "" && isNumbered) return "_";
  if (letters === "")
    throw new StoreError(
      "refused",
      `The file can't be named: ${JSON.stringify(joined)} has no letter that a file name can hold.`,
    );
  return /^(con|prn|aux|nul|com\d|lpt\d)(\.|$)/i.test(name) ? `_${name}` : name;
}

function shortened(name: string): string {
  let text = name;
  while (Buffer.byteLength(text) > LONGEST) text = [...text].slice(0, -1).join("");
  return text;
}
