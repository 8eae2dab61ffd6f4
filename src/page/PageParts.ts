import type { Command } from "../command/index.ts";
import type { EntryState } from "../entry/index.ts";
import { commandName, stepCommand } from "../markup/index.ts";
import { keepListed, Undoing } from "./binding.ts";
import { BoundForm } from "./BoundForm.ts";
import { CommandButton } from "./commandButton.ts";
import { isElement } from "./dom.ts";
import { commandButtons, formsIn } from "./forms.ts";
import type { Listening } from "./listening.ts";
import { formName, memberOf } from "./memberOf.ts";
import { showOutput } from "./output.ts";
import type { SortedThings } from "./pageThings.ts";
import type { PartBinder } from "./parts/PagePart.ts";
import { showProgress } from "./progress.ts";
import { isInCopy } from "./rows/copies.ts";
import { bindStatus } from "./status.ts";
import { type Survey, surveyed } from "./survey.ts";

/** What an element is to be bound to, and how. */
interface Wanted {
  readonly element: Element;
  readonly thing: unknown;
  readonly begin: (undoing: Undoing) => void;
}

/** What may be bound of a page. */
const parts = 'form, [data-name], button[command^="--"], [role="status"]';
/** The attributes by which something of a page is found. */
const names = ["name", "data-name", "command", "role"];

/**
 * What of a page is bound by the names in it: forms, buttons of commands, outputs, rows, status lines. What arrives later, goes, or gets
 * another name, is followed.
 */
export class PageParts {
  readonly forms = new Map<EntryState, BoundForm>();
  readonly #bound = new Map<Element, Map<unknown, Undoing>>();
  readonly #runs: Map<string, Command>;
  readonly #observer: MutationObserver;
  readonly #root: Document | Element;
  readonly #things: SortedThings;
  readonly #listening: Listening;

  constructor(root: Document | Element, things: SortedThings, listening: Listening) {
    this.#root = root;
    this.#things = things;
    this.#listening = listening;
    this.#runs = new Map(things.commands);
    this.#observer = new MutationObserver((records) => this.#changed(records));
  }

  /** Gives the buttons of a form in steps what they run. */
  run(name: string, commands: Readonly<Record<string, Command>>): void {
    for (const [what, command] of Object.entries(commands)) this.#runs.set(stepCommand(name, what), command);
  }

  /** Binds what is not bound yet, and lets go of what is not to be bound any more. */
  look(surveys: readonly Survey[] = []): void {
    const wanted = this.#wanted(surveys);
    const things = new Map<Element, Set<unknown>>();
    for (const { element, thing } of wanted) things.set(element, (things.get(element) ?? new Set()).add(thing));
    for (const [element, bound] of this.#bound)
      for (const [thing, undoing] of bound)
        if (things.get(element)?.has(thing) !== true) {
          bound.delete(thing);
          if (bound.size === 0) this.#bound.delete(element);
          undoing.stop();
        }
    for (const { element, thing, begin } of wanted) {
      const bound = this.#bound.get(element) ?? new Map<unknown, Undoing>();
      if (bound.has(thing)) continue;
      const undoing = new Undoing();
      bound.set(thing, undoing);
      this.#bound.set(element, bound);
      begin(undoing);
    }
  }

  /** Follows the page from now on. */
  follow(): void {
    this.#observer.observe(this.#root, { childList: true, subtree: true, attributes: true, attributeFilter: names });
  }

  #changed(records: readonly MutationRecord[]): void {
    const concerns = (node: Node): boolean =>
      isElement(node) && !isInCopy(node) && (node.matches(parts) || node.querySelector(parts) !== null);
    const isPart = ({ type, target, addedNodes, removedNodes }: MutationRecord): boolean =>
      type === "attributes"
        ? this.#bound.has(target as Element) || concerns(target)
        : [...addedNodes, ...removedNodes].some(concerns);
    if (records.some(isPart)) this.look();
  }

  #wanted(surveys: readonly Survey[]): Wanted[] {
    return [...this.#forms(surveys), ...this.#outside(), ...this.#rows(), ...this.#buttons(), ...this.#statusLines()];
  }

  *#forms(surveys: readonly Survey[]): Iterable<Wanted> {
    for (const form of formsIn(this.#root)) {
      const entry = this.#things.entries.get(formName(form));
      if (entry === undefined) continue;
      yield {
        element: form,
        thing: entry,
        begin: (undoing) => {
          const survey = surveys.find((each) => each.form === form) ?? surveyed(form, entry.model);
          const bound = new BoundForm(form, entry, this.#listening, survey);
          this.forms.set(entry, bound);
          undoing.add(() => {
            bound.stop();
            if (this.forms.get(entry) === bound) this.forms.delete(entry);
          });
        },
      };
    }
  }

  *#outside(): Iterable<Wanted> {
    const { entries, commands } = this.#things;
    for (const element of this.#root.querySelectorAll<HTMLElement>("[data-name]")) {
      const [thing = "", ...rest] = element.getAttribute("data-name")!.split(".");
      const command = rest.length === 0 ? commands.get(thing) : undefined;
      if (command !== undefined)
        yield { element, thing: command, begin: (undoing) => undoing.keep(showProgress(element, command)) };
      const entry = entries.get(thing);
      if (entry === undefined || element.closest("form") !== null || isInCopy(element)) continue;
      const name = rest.join(".");
      if (!entry.model.names.includes(name)) continue;
      const field = entry.core.field(name);
      yield {
        element,
        thing: field,
        begin: (undoing) => keepListed(undoing, "output", element, field, () => showOutput(element, field)),
      };
    }
  }

  /** Rows, and what there is of them beside, wherever their name stands. */
  *#rows(): Iterable<Wanted> {
    for (const [name, part] of this.#things.parts)
      for (const element of this.#root.querySelectorAll<HTMLElement>("[data-name]")) {
        const full = element.getAttribute("data-name")!;
        if (isInCopy(element) || (full !== name && !full.startsWith(`${name}.`))) continue;
        yield* this.#partAt(element, part, full.slice(name.length + 1));
      }
  }

  *#partAt(element: HTMLElement, part: PartBinder, beside: string): Iterable<Wanted> {
    const isRight = part.elements.length === 0 || part.elements.includes(element.localName);
    if (beside === "" && isRight) yield { element, thing: part, begin: (undoing) => undoing.keep(part.bind(element)) };
    else if (beside !== "")
      yield {
        element,
        thing: `${beside} of rows`,
        begin: (undoing) => {
          const shown = part.show(element, beside);
          if (shown !== undefined) undoing.keep(shown);
        },
      };
  }

  *#buttons(): Iterable<Wanted> {
    for (const button of commandButtons(this.#root)) {
      const command = this.#runs.get(commandName(memberOf(button, "getAttribute")("command")!));
      if (command === undefined) continue;
      yield {
        element: button,
        thing: command,
        begin: (undoing) =>
          keepListed(undoing, "command", button, command, () => new CommandButton(button, command, this.#listening)),
      };
    }
  }

  *#statusLines(): Iterable<Wanted> {
    for (const element of this.#root.querySelectorAll<HTMLElement>("[role=status]"))
      yield { element, thing: "status", begin: (undoing) => undoing.keep(bindStatus(element)) };
  }

  stop(): void {
    this.#observer.disconnect();
    for (const bound of this.#bound.values()) for (const undoing of bound.values()) undoing.stop();
    this.#bound.clear();
  }
}
