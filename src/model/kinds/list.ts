import { requireKind } from "../../errors/index.ts";
import { sayOfValues } from "../sayOfValues.ts";
import {
  type AnyKind,
  checkCount,
  checkOptions,
  type CommonOptions,
  type CountLimits,
  type Finding,
  type Kind,
  nothingFound,
  optionsOf,
  type Reading,
  type Sure,
  readAs,
} from "./kind.ts";

/** Options of `list`. */
export interface ListOptions<V> extends CommonOptions<readonly V[]>, CountLimits {
  /** Whether each item may be there only once. */
  readonly uniqueItems?: boolean | undefined;
}

type ItemOf<K> = K extends { readonly types?: { readonly value: infer V } } ? V : never;

/**
 * Any number of values of one kind, in the order in which they were entered: as text, one on each line. Blank is the
 * empty list; `required` means at least one.
 *
 * @param item - what each of them is
 * @throws `unknownOption`, `wrongOption`
 * @example list(text({ maxLength: 40 }), { title: "Other names", uniqueItems: true })
 */
export function list<K extends AnyKind, const O extends ListOptions<ItemOf<K>>>(
  item: K,
  options?: O,
): Kind<readonly ItemOf<K>[], readonly ItemOf<K>[], Sure<O>> {
  type V = ItemOf<K>;
  requireKind("list", item);
  const given: ListOptions<V> = optionsOf("list", options as ListOptions<V> | undefined);
  const kind: Kind<readonly V[], readonly V[], Sure<O>> = {
    kind: "list",
    options: given,
    empty: [],
    expects: `a list, each item of which is ${item.expects}`,
    say: sayOfValues,
    missing: "valueMissing",
    isBlank: (values) => values.length === 0,
    same: (a, b) => a.length === b.length && a.every((value, place) => item.same(value, b[place])),
    belongs: (value) => Array.isArray(value) && value.every((each) => item.belongs(each)),
    revive: (json) =>
      Array.isArray(json) && item.revive !== undefined ? json.map((each) => item.revive!(each)) : json,
    read: (text, locale, timeZone) => readList<V>(text, item, locale, timeZone),
    edit: (values, locale, timeZone) => values.map((value) => item.edit(value, locale, timeZone)).join("\n"),
    show: (values, locale, timeZone) => values.map((value) => item.show(value, locale, timeZone)).join("\n"),
    check: (values, locale, timeZone) => checkList(values, given, item, locale, timeZone),
  };
  checkOptions(kind, ["minItems", "maxItems", "uniqueItems"]);
  return kind;
}

function readList<V>(text: string, item: AnyKind, locale: string, timeZone?: string): Reading<readonly V[]> {
  const values: V[] = [];
  for (const line of text.split(/\r?\n/)) {
    if (line.trim() === "") continue;
    const reading = item.read(line.trim(), locale, timeZone) as Reading<V>;
    if (!reading.ok) return reading;
    values.push(reading.value);
  }
  return readAs(values);
}

function checkList<V>(
  values: readonly V[],
  limits: ListOptions<V>,
  item: AnyKind,
  locale: string,
  timeZone?: string,
): readonly Finding[] {
  const found: Finding[] = [];
  const seen = new Set<string>();
  values.forEach((value, place) => {
    for (const finding of item.check(value, locale, timeZone)) found.push({ ...finding, inside: `/${place}` });
    const text = limits.uniqueItems === true ? JSON.stringify(item.meaning?.(value) ?? value) : undefined;
    const twice = text !== undefined && seen.has(text);
    if (text !== undefined) seen.add(text);
    if (twice)
      found.push({
        code: "duplicate",
        message: "duplicateItem",
        facts: { value: item.show(value, locale, timeZone) },
        inside: `/${place}`,
      });
  });
  found.push(...checkCount(values.length, limits));
  return found.length === 0 ? nothingFound : found;
}
