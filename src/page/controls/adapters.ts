import { requireArgument } from "../../errors/index.ts";
import type { AnyKind, Choice } from "../../model/index.ts";

/** What an adapter is to show. */
export interface Shown {
  /** The value. */
  readonly value: unknown;
  /** The text to edit while the element has the focus, else the text in its display format. */
  readonly text: string;
  /** The choices, where there are some. */
  readonly choices: readonly Choice[] | undefined;
  /** Whether a person is in it. */
  readonly focused: boolean;
}

/** What a person did: typed a text, or chose a value; `undefined` takes the value away. */
export type Taken = { readonly text: string } | { readonly value: unknown };

/** How the element of a component library is read and written, where it does so otherwise than the platform's own. */
export interface ControlAdapter<E extends HTMLElement = HTMLElement> {
  /** The events by which it says that a person changed it. */
  readonly hears: readonly string[];
  /** Shows a field in the element. */
  show(element: E, what: Shown): void;
  /** Takes what a person did: a text to be read, or a value. */
  take(element: E, choices: readonly Choice[] | undefined, before: unknown): Taken;
  /** Shows what is wrong in a place of its own, or that nothing is; without it, a message is put behind the element. */
  showProblem?(element: E, message: string | undefined): void;
}

const adapters = new Map<string, ControlAdapter>();

/**
 * Says how the elements of one name are bound. Elements with `value` or `checked` and the events `input` or `change`
 * need no adapter.
 *
 * @param tag - the element's name, as `nursery-dial`
 * @example
 * adaptControl("nursery-dial", {
 *   hears: ["dial-turned"],
 *   show: (dial, { value }) => { dial.position = value ?? 0; },
 *   take: (dial) => ({ value: dial.position }),
 * });
 */
export function adaptControl<E extends HTMLElement = HTMLElement>(tag: string, adapter: ControlAdapter<E>): void {
  const isTag = typeof tag === "string" && /^[a-z][^\s<>]*-[^\s<>]*$/.test(tag);
  requireArgument(isTag, "adaptControl", tag, "the name of a custom element, as nursery-dial");
  const given = adapter as Partial<ControlAdapter<E>> | null;
  const isWhole = Array.isArray(given?.hears) && typeof given.show === "function" && typeof given.take === "function";
  requireArgument(isWhole, "adaptControl", adapter, "an object with hears, show and take");
  adapters.set(tag, adapter);
}

type Checkable = HTMLElement & { checked?: unknown; selected?: unknown };
type Valued = HTMLElement & { value: unknown };

const hears = ["input", "change"];

/** Two states: `checked`, or `selected` where there is no `checked`. */
const checkable = (property: "checked" | "selected"): ControlAdapter<Checkable> => ({
  hears,
  show: (element, { value }) => {
    element[property] = value === true;
    if ("indeterminate" in element) element.indeterminate = value === undefined;
  },
  take: (element) => ({ value: element[property] === true }),
});

/** Elements of one name, each for one choice: the chosen ones are ticked. */
const ticking: ControlAdapter<Checkable & Valued> = {
  hears,
  show: (element, { value }) => {
    const chosen = Array.isArray(value) ? value.map(String) : [String(value)];
    element.checked = value !== undefined && chosen.includes(String(element.value));
  },
  take(element, choices = [], before) {
    const choice = choices.find((each) => String(each.const) === String(element.value))?.const;
    if (!Array.isArray(before)) return { value: element.checked === true ? choice : before };
    const others = (before as readonly unknown[]).filter((each) => each !== choice);
    return { value: element.checked === true ? [...others, choice] : others };
  },
};

/** One of several values, by its `value` as text. */
const choosing: ControlAdapter<Valued> = {
  hears,
  show: (element, { value }) => {
    const wanted = Array.isArray(value) ? value.map(String) : String(value ?? "");
    if (String(element.value) !== String(wanted)) element.value = wanted;
  },
  take(element, choices = []) {
    const chosen = Array.isArray(element.value) ? element.value.map(String) : String(element.value);
    if (Array.isArray(chosen))
      return { value: choices.filter((choice) => chosen.includes(String(choice.const))).map((choice) => choice.const) };
    return { value: choices.find((choice) => String(choice.const) === chosen)?.const };
  },
};

/** A number, as of a slider. */
const numeric: ControlAdapter<Valued> = {
  hears,
  show: (element, { value }) => {
    element.value = value ?? 0;
  },
  take: (element) => ({ value: Number(element.value) }),
};

/** Anything that is typed as text. */
const typed: ControlAdapter<Valued> = {
  hears,
  show: (element, { text, focused }) => {
    // What a person types is not rewritten under the caret.
    if (!focused && element.value !== text) element.value = text;
  },
  take: (element) => ({ text: String(element.value ?? "") }),
};

/** The names of the elements that something was said of: they need not be known to the platform as controls of a form. */
export const adaptedTags = (): string => [...adapters.keys()].join();

/** The adapter for an element: what was said of its name, else what its properties tell. */
export function adapterFor(element: HTMLElement, kind: AnyKind): ControlAdapter {
  const own = adapters.get(element.localName);
  if (own !== undefined) return own;
  if (kind.kind === "boolean")
    return checkable("checked" in element || !("selected" in element) ? "checked" : "selected");
  if (kind.choices !== undefined) return "checked" in element ? ticking : choosing;
  const number = (kind.kind === "number" || kind.kind === "integer") && typeof (element as Valued).value === "number";
  return number ? numeric : typed;
}
