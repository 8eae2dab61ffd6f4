import { type BoundPart, firstWrong, isError, listUnder, pressSave, sayOutcome } from "../control/index.ts";
import { follow, getOrMake, mirror } from "../engine/index.ts";
import { type EntryState, FieldState, type SaveResult } from "../entry/index.ts";
import { type Problem, say, sayer } from "../model/index.ts";
import { Undoing } from "./binding.ts";
import { takeOver } from "./takeOver.ts";
import { type ControlContext, groupsOf, makeControl, type PageControl } from "./controls/index.ts";
import { activeBeside, type ControlElement, fullName, isControl, isElement, isNamed, toggleAttribute } from "./dom.ts";
import { whenDefined } from "./whenDefined.ts";
import { FoundElement } from "./found.ts";
import { type FormPart, partsOf } from "./formParts.ts";
import type { Listener, Listening } from "./listening.ts";
import { formName, memberOf } from "./memberOf.ts";
import { FormOutputs } from "./FormOutputs.ts";
import { RestingControls } from "./resting.ts";
import { isInCopy } from "./rows/copies.ts";
import { type Survey, surveyed } from "./survey.ts";
import { sayWhatIsNowhere } from "./problems/nowhere.ts";
import { bindSummary } from "./problems/summary.ts";
import { followUndoKeys } from "./undoKeys.ts";
import { askBeforeLeaving } from "./unsaved.ts";

/** A form and the entry it shows: its controls, outputs, save and revert. */
export class BoundForm implements Listener, BoundPart {
  readonly kind = "form";
  readonly #undoing = new Undoing();
  readonly controls = new Map<string, PageControl[]>();
  readonly #outputs: FormOutputs;
  readonly #context: ControlContext;
  readonly #observer: MutationObserver;
  readonly resting: RestingControls;
  /** The form, its buttons and what only shows values, as they were. */
  readonly #found = new Map<Element, FoundElement>();
  #hasSummary = false;
  #pressing = false;
  #busy = false;
  #stopped = false;
  /** What the form's own button does instead of saving, where it is a form in steps. */
  submitInstead: (() => void) | undefined;
  /** Brings fields before a person that may be out of sight for now, as those of another step. */
  bringUp: ((names: readonly string[]) => void) | undefined;

  readonly #listening: Listening;

  constructor(
    readonly form: HTMLFormElement,
    readonly entry: EntryState,
    listening: Listening,
    survey: Survey,
  ) {
    this.#listening = listening;
    const inLanguage = memberOf(form, "closest")("[lang]");
    if (inLanguage !== null) entry.offerLocale(memberOf(inLanguage, "getAttribute")("lang")!);
    this.#context = {
      listening,
      prefix: formName(form) || "entry",
      say: (name, facts) => say(entry.locale, name, facts),
      sayOf: (inEnglish, name, facts) => sayer(inEnglish)(entry.locale, name, facts),
    };
    this.resting = new RestingControls(entry.core, this.#context, (name, control) =>
      this.controls.set(name, [control]),
    );
    this.#outputs = new FormOutputs(entry, this.#context.prefix);
    this.#undoing.add(takeOver("form", form, () => this.stop()));
    this.#found.set(form, new FoundElement(form));
    if (!memberOf(form, "noValidate")) form.noValidate = true;
    memberOf(form, "removeAttribute")("aria-busy");
    listening.set(form, this);
    listening.adopt(form, (element) => this.#wake(element));
    this.#followBeginning();
    this.#followRestoring();
    this.#bindAll(survey);
    this.#bindSurroundings(survey.alert);
    this.#undoing.keep(listUnder(memberOf(form, "ownerDocument"), this));
    this.#observer = new MutationObserver((records) => this.#follow(records));
    // Controls tied to the form by `form=` may stand anywhere in the document.
    this.#observer.observe(memberOf(form, "getRootNode")(), {
      childList: true,
      subtree: true,
      attributes: true,
      attributeFilter: ["name", "data-name", "form"],
      attributeOldValue: true,
    });
  }

  get path(): string {
    return formName(this.form);
  }

  get outputs(): FormOutputs["shown"] {
    return this.#outputs.shown;
  }

  get element(): HTMLFormElement {
    return this.form;
  }

  get thing(): EntryState {
    return this.entry;
  }

  #bindAll({ elements, names, plain, exact }: Survey): void {
    const resting = this.resting.begin(activeBeside(this.form));
    const byName = new Map<string, ControlElement[]>();
    for (let place = 0; place < elements.length; place++) {
      const element = elements[place]!;
      const name = names[place]!;
      const easy = exact || ((plain === undefined || plain.has(element)) && !resting.has(name) && !byName.has(name));
      if (easy && resting.rest(name, element as ControlElement)) continue;
      // What shares its name with another is bound together with it.
      if (resting.has(name)) byName.set(name, [resting.give(name)]);
      this.#sort(element, name, byName);
    }
    for (const [name, same] of byName) this.#bindField(name, same);
  }

  #sort(element: Element, name: string, byName: Map<string, ControlElement[]>): void {
    if (name === "" || !this.#knows(name)) return;
    if (!isControl(element)) {
      // Rows inside the row are bound by `bindGrid` and `bindRows`.
      if (element.localName === "table" || element.querySelector(":scope > template") !== null) return;
      if (element.localName === "output" || element.hasAttribute("data-name")) this.#outputs.add(element, name);
      return;
    }
    const same = byName.get(name);
    if (same === undefined) byName.set(name, [element]);
    else same.push(element);
  }

  #knows(name: string): boolean {
    return this.entry.model.kindOf(name) !== undefined || this.entry.model.isCalculated(name);
  }

  /** Resting controls show what the entry began with, as long as that, the language and what is visible stay. */
  #followBeginning(): void {
    const { core } = this.entry;
    const wake = (field: FieldState): void => this.resting.follow(field);
    core.whenMade.add(wake);
    this.#undoing.add(() => core.whenMade.delete(wake));
    this.#undoing.keep(
      follow(
        () => [core.baseline.read(), core.locale, core.allShown] as const,
        ([, , allShown]) => (allShown ? this.#wakeAll() : this.resting.showAgain()),
      ),
    );
  }

  /** A page that is gone back to may get what was in it only once it is shown, and without an event. */
  #followRestoring(): void {
    const window = memberOf(this.form, "ownerDocument").defaultView;
    // A page that was kept whole while the person was away: some engines blank fields in it all the same.
    const cameBack = ({ persisted }: PageTransitionEvent): void => {
      if (!persisted) return;
      this.resting.showAgain();
      for (const controls of this.controls.values()) for (const control of controls) control.lookAgain();
    };
    window?.addEventListener("pageshow", cameBack);
    this.#undoing.add(() => window?.removeEventListener("pageshow", cameBack));
    if (window === null || memberOf(this.form, "ownerDocument").readyState === "complete") return;
    const restored = (): void => {
      for (const name of this.resting.restored()) this.resting.wake(name);
      for (const controls of this.controls.values()) for (const control of controls) control.restored();
    };
    window.addEventListener("pageshow", restored, { once: true });
    this.#undoing.add(() => window.removeEventListener("pageshow", restored));
  }

  /** An event came to a control that nobody listens for yet. */
  #wake(element: EventTarget): Listener | undefined {
    const name = this.resting.nameOf(element);
    if (name === undefined) return undefined;
    this.resting.wake(name);
    return this.controls.get(name)?.[0];
  }

  #wakeAll(): void {
    for (const name of this.resting.names()) {
      this.resting.wake(name);
      for (const control of this.controls.get(name) ?? []) control.lookAgain();
    }
  }

  #bindField(name: string, elements: readonly ControlElement[]): void {
    const bound = this.controls.get(name) ?? [];
    const field = this.entry.core.field(name);
    if (!(field instanceof FieldState)) {
      for (const element of elements) this.#outputs.addControl(element, name);
      return;
    }
    const groups = groupsOf(elements, field);
    const same = (control: PageControl, group: readonly ControlElement[]): boolean =>
      control.elements.length === group.length && group.every((element, place) => control.elements[place] === element);
    for (const control of bound) if (!groups.some((group) => same(control, group))) control.stop();
    const controls = groups.flatMap((group) => {
      const kept = bound.find((control) => same(control, group));
      const control = kept ?? makeControl(field, group, this.#context)?.start();
      if (kept === undefined) whenDefined(group, (element) => this.#takeAnew(element, name));
      return control === undefined ? [] : [control];
    });
    if (controls.length > 0) this.controls.set(name, controls);
    else this.controls.delete(name);
  }

  #bindSurroundings(alert: HTMLElement | undefined): void {
    const { form, entry } = this;
    this.#hasSummary = alert !== undefined;
    if (alert !== undefined) this.#undoing.keep(bindSummary(alert, entry, (pointer) => this.#find(pointer)));
    this.#undoing.add(entry.presentSaves((result) => this.#present(result)));
    this.#undoing.keep(mirror(() => this.#showBusy(), "busy"));
    this.#undoing.keep(followUndoKeys(form, entry, this.#listening, (names) => this.#showChanged(names)));
    if (entry.canSave) this.#undoing.keep(askBeforeLeaving(form, entry));
    this.#undoing.keep(
      follow(
        () => entry.rowsBegun,
        () => this.#inOrder()[0]?.focus(),
      ),
    );
  }

  #showBusy(): void {
    const { form, entry } = this;
    if (entry.busy === this.#busy) return;
    this.#busy = entry.busy;
    const busy = entry.busy ? "true" : undefined;
    if (busy === undefined) memberOf(form, "removeAttribute")("aria-busy");
    else memberOf(form, "setAttribute")("aria-busy", busy);
    for (const button of memberOf(form, "querySelectorAll")<HTMLButtonElement>("button:not([command])"))
      if (button.type === "submit") {
        getOrMake(this.#found, button, () => new FoundElement(button));
        toggleAttribute(button, "aria-busy", busy);
      }
  }

  /** Moves the focus to the control that an undo has changed, unless the focus is there already. */
  #showChanged(names: readonly string[]): void {
    this.bringUp?.(names);
    const controls = names.flatMap((name) => this.controls.get(name) ?? []);
    const active = activeBeside(this.form);
    if (!controls.some((control) => control.elements.includes(active as HTMLElement))) controls[0]?.focus();
  }

  /** All controls in the order of the page. Those that rest are woken, since the first of them may be asked for. */
  #inOrder(): FormPart[] {
    this.#wakeAll();
    const all: FormPart[] = [...[...this.controls.values()].flat(), ...partsOf(this.entry.core)];
    return all.sort((a, b) =>
      a.elements[0]!.compareDocumentPosition(b.elements[0]!) & Node.DOCUMENT_POSITION_FOLLOWING ? -1 : 1,
    );
  }

  #find(pointer: string): FormPart | undefined {
    return firstWrong(this.#inOrder(), [{ pointer }]);
  }

  submit(event: SubmitEvent): void {
    event.preventDefault();
    // Enter saves without the control being left.
    this.#listening.commitFocused();
    if (this.submitInstead !== undefined) return this.submitInstead();
    // A second press while the first is under way does nothing.
    if (this.#pressing) return;
    this.#pressing = true;
    void this.#save().finally(() => {
      this.#pressing = false;
    });
  }

  async #save(): Promise<void> {
    const outcome = await pressSave(this.entry);
    if (outcome.what === "warned") this.focusFirst(outcome.problems);
  }

  /** Says what a save came to, whoever began it, and leads the focus to what is wrong. */
  #present(result: SaveResult<unknown>): void {
    const outcome = sayOutcome(this.entry, result, this.#hasSummary);
    if (outcome.what !== "refused") return;
    const errors = outcome.problems.filter(isError);
    this.focusFirst(errors);
    sayWhatIsNowhere(errors, this.entry, this.#hasSummary, (pointer) => this.#find(pointer));
  }

  /** Puts the focus on the first control that shows one of these problems, and has it in view. */
  focusFirst(problems: readonly Problem[]): void {
    const control = firstWrong(this.#inOrder(), problems);
    control?.focus();
    control?.elements[0]!.scrollIntoView({ block: "nearest" });
  }

  /** Puts the focus on the first control inside an element. @returns whether there is one */
  focusIn(element: Element): boolean {
    const control = this.#inOrder().find(({ field, elements }) => field.relevant && element.contains(elements[0]!));
    control?.focus();
    return control !== undefined;
  }

  reset(event: Event): void {
    event.preventDefault();
    this.entry.revert();
  }

  /** Binds controls, options and outputs that arrive, lets go of those that are gone, and takes those that moved or got another name anew. */
  #follow(records: readonly MutationRecord[]): void {
    const names = new Set<string>();
    const moved = new Set<Element>();
    for (const { type, target, addedNodes, removedNodes, oldValue } of records) {
      if (isNamed(target, "select") && target.form === this.form) this.#optionsChanged(target, names);
      if (type === "attributes" && isElement(target) && !isInCopy(target)) {
        if (oldValue !== null) names.add(lastName(oldValue));
        // The radio buttons in it have its name before theirs.
        if (isNamed(target, "fieldset")) moved.add(target);
        for (const name of namesIn(target)) names.add(name);
      }
      for (const node of [...addedNodes, ...removedNodes])
        if (isElement(node) && !isInCopy(node)) {
          for (const name of namesIn(node)) names.add(name);
          moved.add(node);
        }
    }
    if (names.size > 0) this.#bindAgain(names, moved);
    // What was written here is no news.
    this.#observer.takeRecords();
  }

  /** The options of the page are others: a choice that has lost its option is not another choice. */
  #optionsChanged(select: HTMLSelectElement, names: Set<string>): void {
    if (!this.#listening.get(select)) names.add(lastName(select.name));
    for (const controls of this.controls.values())
      for (const control of controls) if (control.elements.includes(select)) control.lookAgain();
  }

  #bindAgain(names: ReadonlySet<string>, moved: ReadonlySet<Element>): void {
    this.#outputs.dropIf(
      (element, name) => !element.isConnected || (names.has(lastName(name)) && fullName(element, true) !== name),
    );
    for (const name of this.resting.names()) if (names.has(lastName(name))) this.resting.wake(name);
    // What stands beside a control goes with it, and the radio buttons of a group have the name of the scope that they were in.
    for (const [name, controls] of this.controls) {
      const left = controls.filter((control) => {
        const isElsewhere = names.has(lastName(name)) && isIn(control.elements, moved);
        if (isElsewhere) control.stop();
        return !isElsewhere;
      });
      if (left.length < controls.length) this.controls.set(name, left);
    }
    const byName = new Map<string, ControlElement[]>();
    const { elements, names: full } = surveyed(this.form, this.entry.model);
    elements.forEach((element, place) => {
      if (names.has(lastName(full[place]!))) this.#sort(element, full[place]!, byName);
    });
    for (const name of this.controls.keys()) if (names.has(lastName(name)) && !byName.has(name)) byName.set(name, []);
    for (const [name, same] of byName) this.#bindField(name, same);
  }

  /** An element that is known to the platform only now shows nothing of what it was given before. */
  #takeAnew(element: Element, name: string): void {
    if (!this.#stopped) this.#bindAgain(new Set([lastName(name)]), new Set([element]));
  }

  stop(): void {
    // Another binding may have taken the form over, whose page this is now.
    if (this.#stopped) return;
    this.#stopped = true;
    this.#observer.disconnect();
    this.#listening.delete(this.form);
    for (const controls of this.controls.values()) for (const control of controls) control.stop();
    this.#outputs.stop();
    this.controls.clear();
    this.resting.clear();
    this.#undoing.stop();
    for (const found of this.#found.values()) found.restore();
  }
}

/** Whether one of some elements is, or is inside, something that was moved. */
const isIn = (elements: readonly Element[], moved: ReadonlySet<Element>): boolean =>
  [...moved].some((node) => elements.some((element) => node.contains(element)));

/** A radio button in a nested scope has its full name, since it was bound. */
const lastName = (name: string): string => name.slice(name.lastIndexOf(".") + 1);

function* namesIn(node: Element): Iterable<string> {
  for (const element of [node, ...node.querySelectorAll("[name], [data-name]")]) {
    const name = element.getAttribute("name") ?? element.getAttribute("data-name");
    if (name !== null) yield lastName(name);
  }
}
