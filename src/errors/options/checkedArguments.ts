import { IronwoodError, shown } from "../IronwoodError.ts";

/** Refuses a call whose argument is not what it is for. @throws `wrongType` */
export function requireArgument(isRight: boolean, call: string, received: unknown, expected: string): void {
  if (!isRight) throw new IronwoodError("wrongType", `${call} was given something else`, { received, expected });
}

type Given = Readonly<Record<string, unknown>>;

const isObject = (given: unknown): given is Given =>
  typeof given === "object" && given !== null && !Array.isArray(given);

// What each is told by, so that this knows nothing of the rooms above.
const isModel = (given: unknown): boolean => isObject(given) && "kinds" in given && "parts" in given;
const isEntry = (given: unknown): boolean => isObject(given) && "visibleProblems" in given && "fields" in given;
const isTable = (given: unknown): boolean => isObject(given) && "leftOut" in given && "replaceAll" in given;
const isView = (given: unknown): boolean => isObject(given) && "currentKey" in given && "orderBy" in given;

/** @throws `wrongType` for what is no model */
export function requireModel(call: string, given: unknown): void {
  requireArgument(isModel(given), call, given, "a model, as model({ tag: text() }) makes one");
}

/** @throws `wrongType` for what is no entry */
export function requireEntry(call: string, given: unknown): void {
  requireArgument(isEntry(given), call, given, "an entry, as newEntry() and editEntry() make one");
}

/** @throws `wrongType` for what is no table */
export function requireTable(call: string, given: unknown): void {
  requireArgument(isTable(given), call, given, "a table, as table() makes one");
}

/** @throws `wrongType` for what is no view */
export function requireView(call: string, given: unknown): void {
  requireArgument(isView(given), call, given, "a view, as view() makes one");
}

/** @throws `wrongType` for what is neither a table nor a view */
export function requireRows(call: string, given: unknown): void {
  requireArgument(isTable(given) || isView(given), call, given, "a table or a view");
}

/** What a thing calls itself: unlike its members, no control in a form can take the place of that. */
const sortOf = (given: unknown): string => Object.prototype.toString.call(given);

/**
 * Refuses what is no element, as what `querySelector` gives where nothing is found. It is told by what it has, since it may be of
 * another window.
 *
 * @param name - the name of the element that is wanted; default: any
 * @throws `wrongType`
 */
export function requireElement(call: string, given: unknown, name?: string): void {
  const wanted = name === undefined ? /Element\]$/ : new RegExp(`HTML${name}Element\\]$`, "i");
  const what = name === undefined ? "an element of the page" : `a <${name}> of the page`;
  const why = given === null ? "; null is what querySelector gives where it finds nothing" : "";
  requireArgument(wanted.test(sortOf(given)), call, given, what + why);
}

/** @throws `wrongType` for what is neither a document nor an element, and for things to bind that are in no object */
export function requirePage(call: string, root: unknown, things: unknown): void {
  const example = `${call}(document, { card })`;
  requireArgument(
    /(Document|Element)\]$/.test(sortOf(root)),
    call,
    root,
    `a document or an element, then what is bound by its names: ${example}`,
  );
  const isNamed = isObject(things) && !isEntry(things) && !isTable(things) && !isView(things);
  requireArgument(isNamed, call, things, `an object with what is bound by its names: ${example}`);
}

const isKind = (given: unknown): boolean => isObject(given) && typeof given["kind"] === "string" && "isBlank" in given;

/** @throws `wrongType` for what is no kind */
export function requireKind(call: string, given: unknown): void {
  requireArgument(isKind(given), call, given, "a kind, as text() or integer()");
}

/** What is said of a field that is of no kind. */
function whyNoKind(name: string, given: unknown): string {
  const isCall = typeof given === "function";
  return `"${name}" is ${shown(given)}${isCall ? `, which has to be called: ${given.name || "text"}()` : ""}`;
}

/** Refuses fields that are of no kind: all of them at once. @throws `wrongType` */
export function requireFields(call: string, fields: unknown): void {
  requireArgument(isObject(fields), call, fields, "an object with a kind for each field, as { tag: text() }");
  const wrong = Object.entries(fields as Given).filter(([, kind]) => !isKind(kind));
  const told = wrong.map(([name, given]) => whyNoKind(name, given)).join("; ");
  requireArgument(wrong.length === 0, call, fields, `a kind for each field, as text() or date(), but ${told}`);
}

/** Refuses what is no function of the row, by the fields that it is given for. @throws `wrongType` */
export function requireFunctions(call: string, given: unknown): void {
  requireArgument(isObject(given), call, given, "an object with a function of the row for each field");
  for (const [name, work] of Object.entries(given as Given)) {
    requireArgument(typeof work === "function", `${call} for "${name}"`, work, "a function of the row");
    const isAsync = (work as { constructor: { name: string } }).constructor.name === "AsyncFunction";
    requireArgument(
      !isAsync,
      `${call} for "${name}"`,
      work,
      "a function that gives its value at once, and is not async",
    );
  }
}
