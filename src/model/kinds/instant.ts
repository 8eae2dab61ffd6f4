import { requireRange, requireValues } from "../../errors/index.ts";
import { sayOfValues } from "../sayOfValues.ts";
import {
  editingInstant,
  instantAt,
  isInstant,
  localTime,
  readInstant,
  readShownInstant,
  showInstant,
} from "../../notation/index.ts";
import {
  checkOptions,
  type CommonOptions,
  type Finding,
  type Kind,
  nothingFound,
  optionsOf,
  type Reading,
  type Sure,
  readAs,
  withGiven,
} from "./kind.ts";
import { sampleWithin } from "./range.ts";

/** Options of `instant`. */
export interface InstantOptions extends CommonOptions<string> {
  /** The earliest that is right, included; in UTC. */
  readonly minimum?: string | undefined;
  /** The latest that is right, included; in UTC. */
  readonly maximum?: string | undefined;
  /** That the place where a row is kept gives it: when the row was made there, or changed last. Blank until then; nobody else can change it. */
  readonly given?: "created" | "changed" | undefined;
  /** How it is shown: ECMA-402's options of `Intl.DateTimeFormat`. The zone is the entry's. */
  readonly display?: Intl.DateTimeFormatOptions | undefined;
}

/**
 * A moment, kept in UTC as RFC 3339 has it: `2026-11-23T14:30:00Z`. It is read and shown by the clock of the entry's
 * `timeZone`. Of the two moments that one local time names when clocks are put back, the earlier is taken; a local time
 * that does not exist when clocks are put forward can't be read. Blank is `undefined`.
 *
 * @throws `unknownOption`, `wrongOption`
 * @example instant({ title: "Collected at" })
 */
export function instant<const O extends InstantOptions>(options?: O): Kind<string, undefined, Sure<O>> {
  const given: InstantOptions = withGiven<InstantOptions>("instant", optionsOf("instant", options), [
    "created",
    "changed",
  ]);
  const display = given.display ?? { dateStyle: "medium", timeStyle: "short" };
  const show = (value: string | undefined, locale: string, timeZone = "UTC"): string =>
    value === undefined ? "" : showInstant(value, locale, timeZone, display);
  const kind: Kind<string, undefined, Sure<O>> = {
    kind: "instant",
    options: given,
    empty: undefined,
    expects: "an instant in UTC as YYYY-MM-DDTHH:MM:SSZ",
    say: sayOfValues,
    missing: "valueMissing",
    isBlank: (value) => value === undefined,
    same: (a, b) => a === b || (a !== undefined && b !== undefined && Date.parse(a) === Date.parse(b)),
    meaning: inFull,
    belongs: isInstant,
    read(text, locale, timeZone = "UTC"): Reading<string | undefined> {
      if (text.trim() === "") return readAs(undefined);
      const value = readShownInstant(text, locale, timeZone, display) ?? readInstant(text, locale, timeZone);
      if (value !== undefined) return readAs(value);
      const sample = sampleWithin("2026-11-23T14:30:00Z", given.minimum, given.maximum, compareInstants);
      const example = editingInstant(given.examples?.[0] ?? sample, locale, timeZone);
      return { ok: false, finding: { code: "badInput", message: "badInstant", facts: { example } } };
    },
    edit: (value, locale, timeZone = "UTC") => (value === undefined ? "" : editingInstant(value, locale, timeZone)),
    show,
    toLocal: localTime,
    fromLocal: instantAt,
    check: (value, locale, timeZone) => checkInstant(value, given, (limit) => show(limit, locale, timeZone)),
  };
  checkOptions(kind, ["minimum", "maximum", "display", "given"]);
  requireValues("instant", given, ["minimum", "maximum"], isInstant, kind.expects);
  requireRange("instant", given, compareInstants);
  return kind;
}

const compareInstants = (a: string, b: string): number => Date.parse(a) - Date.parse(b);

/** With all digits of a second, so that texts compare as the moments that they name. */
const inFull = (value: string): string => {
  const [, seconds = value, fraction = ""] = /^([^.Z]*)(?:\.(\d+))?Z$/i.exec(value) ?? [];
  return `${seconds.toUpperCase()}.${fraction.padEnd(9, "0")}Z`;
};

function checkInstant(
  value: string,
  { minimum, maximum }: InstantOptions,
  show: (limit: string) => string,
): readonly Finding[] {
  const at = Date.parse(value);
  if (minimum !== undefined && at < Date.parse(minimum))
    return [{ code: "rangeUnderflow", message: "beforeMinimum", facts: { limit: show(minimum) } }];
  if (maximum !== undefined && at > Date.parse(maximum))
    return [{ code: "rangeOverflow", message: "afterMaximum", facts: { limit: show(maximum) } }];
  return nothingFound;
}
