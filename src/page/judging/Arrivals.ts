import { dispose, getOrMake } from "../../engine/index.ts";
import type { FormFacts, NamedFacts, PageFacts, Verdict } from "../../markup/index.ts";
import type { AnyModel } from "../../model/index.ts";
import { fullName, isElement, isNamed } from "../dom.ts";
import { isInCopy } from "../rows/copies.ts";
import { memberOf } from "../memberOf.ts";
import { type Survey, surveyed } from "../survey.ts";
import { DomFacts, formFacts } from "./facts.ts";
import type { LaterJudging } from "./Judge.ts";
import { report } from "./report.ts";

/** What of a page may be bound by a name. */
const bindable = "form,[name],[data-name],button[command]";

/** What a form is bound to. */
type ModelOf = (form: HTMLFormElement) => AnyModel | undefined;

/** What came into a page. */
export interface Arrived extends PageFacts {
  /** The forms that were there before, each with those of its controls that came, and their likes of the same names. */
  readonly grown: readonly (FormFacts & { readonly element: Element })[];
}

/**
 * Judges what comes into a page, before it is bound: an observer that began earlier is called earlier. Each verdict is told once. Of an
 * element that gets another name, only that is judged, since the other attributes that it has by now are those that binding has given it.
 */
export class Arrivals implements LaterJudging {
  readonly #observer: MutationObserver;
  readonly #verdicts: Verdict[];
  readonly #told: Set<string>;

  /**
   * @param verdicts - those that were told already, to which the others are added
   */
  constructor(root: Node, verdicts: Verdict[], modelOf: ModelOf, judge: (arrived: Arrived) => readonly Verdict[]) {
    this.#verdicts = verdicts;
    this.#told = new Set(verdicts.map(textOf));
    this.#observer = new MutationObserver((records) => {
      const [arrived, renamed] = [arrivedIn(addedBy(records), modelOf), arrivedIn(renamedBy(records), modelOf)];
      const found = arrived === undefined ? [] : judge(arrived);
      const ofNames = renamed === undefined ? [] : judge(renamed).filter(({ code }) => code.startsWith("unknown"));
      this.#tell([...found, ...ofNames]);
    });
    this.#observer.observe(root, { childList: true, subtree: true, attributeFilter: ["name", "data-name", "command"] });
  }

  #tell(found: readonly Verdict[]): void {
    const fresh = found.filter((verdict) => !this.#told.has(textOf(verdict)));
    for (const verdict of fresh) this.#told.add(textOf(verdict));
    if (fresh.length === 0) return;
    this.#verdicts.push(...fresh);
    // There is nobody who could catch it.
    report(fresh, false);
  }

  /** Forgets what came until now: it was judged with the rest of the page. */
  begin(): void {
    this.#observer.takeRecords();
  }

  stop(): void {
    this.#observer.disconnect();
  }

  [dispose](): void {
    this.stop();
  }
}

const textOf = ({ place, message }: Verdict): string => `${place} ${message}`;

function addedBy(records: readonly MutationRecord[]): Set<Element> {
  const added = new Set<Element>();
  for (const { addedNodes } of records)
    for (const node of addedNodes)
      if (isElement(node) && memberOf(node, "isConnected") && !isInCopy(node)) {
        if (memberOf(node, "matches")(bindable)) added.add(node);
        for (const inner of memberOf(node, "querySelectorAll")(bindable)) if (!isInCopy(inner)) added.add(inner);
      }
  return added;
}

/** What got another name. The names of radio buttons are written by binding too, so that groups are told apart. */
function renamedBy(records: readonly MutationRecord[]): Set<Element> {
  const isNew = new Set(records.flatMap(({ addedNodes }) => [...addedNodes]));
  return new Set(
    records.flatMap(({ type, target }) =>
      type === "attributes" &&
      isElement(target) &&
      memberOf(target, "matches")(`:is(${bindable}):not([type=radio], fieldset, form)`) &&
      memberOf(target, "isConnected") &&
      !isNew.has(target) &&
      !isInCopy(target)
        ? [target]
        : [],
    ),
  );
}

function arrivedIn(added: ReadonlySet<Element>, modelOf: ModelOf): Arrived | undefined {
  if (added.size === 0) return undefined;
  const forms = [...added].filter((element) => isNamed(element, "form"));
  const grown = new Map<HTMLFormElement, Set<Element>>();
  const outputs: NamedFacts[] = [];
  for (const element of added) {
    if (isNamed(element, "form")) continue;
    const form = formOf(element);
    if (form !== null && added.has(form)) continue;
    if (form !== null) getOrMake(grown, form, () => new Set<Element>()).add(element);
    else if (element.hasAttribute("data-name") && !isCopyOfPage(element))
      outputs.push(new DomFacts(element, element.getAttribute("data-name")!));
  }
  return {
    forms: forms.map((form) => formFacts(surveyed(form, modelOf(form)))),
    grown: [...grown].map(([form, elements]) => ({
      ...grownFacts(surveyed(form, modelOf(form)), elements),
      element: form,
    })),
    outputs,
    commands: [...added]
      .filter((element) => isNamed(element, "button") && element.hasAttribute("command"))
      .map((each) => new DomFacts(each, "")),
  };
}

/** Whether code of the page has made an element of a template that stands beside: what is named in it is not meant to be bound. */
function isCopyOfPage(element: Element): boolean {
  const name = `[data-name="${CSS.escape(element.getAttribute("data-name")!)}"]`;
  for (let outer: Element | null = element.parentElement; outer !== null; outer = outer.parentElement)
    for (const template of outer.querySelectorAll<HTMLTemplateElement>(":scope > template"))
      if (template.content.querySelector(name) !== null) return true;
  return false;
}

const formOf = (element: Element): HTMLFormElement | null =>
  "form" in element && isNamed(element.form, "form") ? element.form : element.closest("form");

/** Radio buttons, check boxes and toggles of one field are judged together, whichever of them came. */
function grownFacts(survey: Survey, added: ReadonlySet<Element>): FormFacts {
  const isOneOfMany = (element: Element): boolean =>
    isNamed(element, "button") || (isNamed(element, "input") && ["radio", "checkbox"].includes(element.type));
  const names = new Set([...added].filter(isOneOfMany).map((element) => fullName(element, true)));
  const at = survey.elements.flatMap((element, place) =>
    added.has(element) || (isOneOfMany(element) && names.has(survey.names[place]!)) ? [place] : [],
  );
  return formFacts({
    form: survey.form,
    elements: at.map((place) => survey.elements[place]!),
    names: at.map((place) => survey.names[place]!),
  });
}
