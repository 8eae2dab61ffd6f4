import { sayOfValues } from "../sayOfValues.ts";
import {
  checkOptions,
  type CommonOptions,
  type Finding,
  type Kind,
  nothingFound,
  optionsOf,
  type Sure,
  readAs,
} from "./kind.ts";

/** A file that was picked: the platform's own `File` is one. */
export interface ChosenFile {
  /** The name of the file, without its folder. */
  readonly name: string;
  /** In bytes. */
  readonly size: number;
  /** A media type (RFC 6838); blank when the platform does not know it. */
  readonly type: string;
}

/** Options of `file`. */
export interface FileOptions extends CommonOptions<ChosenFile> {
  /** What may be picked, as HTML's `accept`: `.csv`, `image/*`, `text/plain`, with commas between. */
  readonly accept?: string | undefined;
  /** The most that is right, included, in bytes. */
  readonly maximumSize?: number | undefined;
}

/**
 * A file that a person picks: the `File` itself, with name, size and type. Blank is `undefined`.
 *
 * @throws `unknownOption`
 * @example file({ title: "Photograph", accept: "image/*", maximumSize: 5_000_000 })
 */
export function file<const O extends FileOptions>(options?: O): Kind<ChosenFile, undefined, Sure<O>> {
  const given: FileOptions = optionsOf("file", options as FileOptions | undefined);
  const kind: Kind<ChosenFile, undefined, Sure<O>> = {
    kind: "file",
    options: given,
    empty: undefined,
    expects: "a file with name, size and type",
    say: sayOfValues,
    missing: "choiceMissing",
    isBlank: (value) => value === undefined,
    same: (a, b) => a === b,
    belongs: (value) =>
      typeof value === "object" &&
      value !== null &&
      typeof (value as ChosenFile).name === "string" &&
      typeof (value as ChosenFile).size === "number",
    read: (text) =>
      text === ""
        ? readAs(undefined)
        : { ok: false, finding: { code: "badInput", message: "notAChoice", facts: { value: text } } },
    edit: (value) => value?.name ?? "",
    show: (value, locale) => (value === undefined ? "" : `${value.name} (${bytes(value.size, locale)})`),
    check: (value, locale) => checkFile(value, given, locale),
  };
  checkOptions(kind, ["accept", "maximumSize"]);
  return kind;
}

function checkFile(value: ChosenFile, { accept, maximumSize }: FileOptions, locale: string): readonly Finding[] {
  const found: Finding[] = [];
  if (accept !== undefined && !accept.split(",").some((each) => accepts(each.trim().toLowerCase(), value)))
    found.push({ code: "typeMismatch", message: "wrongFile", facts: { value: accept } });
  if (maximumSize !== undefined && value.size > maximumSize)
    found.push({ code: "rangeOverflow", message: "tooLarge", facts: { limit: bytes(maximumSize, locale) } });
  return found.length === 0 ? nothingFound : found;
}

/** As HTML has it: an ending, a media type, or all media types of one sort. */
function accepts(wanted: string, { name, type }: ChosenFile): boolean {
  if (wanted.startsWith(".")) return name.toLowerCase().endsWith(wanted);
  return wanted.endsWith("/*") ? type.startsWith(wanted.slice(0, -1)) : type === wanted;
}

const units = ["byte", "kilobyte", "megabyte", "gigabyte"] as const;

function bytes(size: number, locale: string): string {
  const power = Math.min(units.length - 1, Math.floor(Math.log10(Math.max(1, size)) / 3));
  return new Intl.NumberFormat(locale, {
    style: "unit",
    unit: units[power]!,
    maximumFractionDigits: 1,
  }).format(size / 1000 ** power);
}
