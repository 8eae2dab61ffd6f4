import {
  IronwoodError,
  requireArgument,
  requireElement,
  requireEntry,
  requireOptions,
  requirePage,
  requireRows,
} from "../errors/index.ts";
import { Command } from "../command/index.ts";
import { listUnder } from "../control/index.ts";
import { internal } from "../engine/index.ts";
import { type AnyEntry, type AnyField, type EntryState, FieldState, type Steps } from "../entry/index.ts";
import { type AnyModel, type RowOf, say, sayer } from "../model/index.ts";
import { allowedIn } from "./addresses.ts";
import { type Binding, bindingOf, type BindOptions, bindOptions, keepListed, Undoing } from "./binding.ts";
import { BoundForm } from "./BoundForm.ts";
import { CommandButton } from "./commandButton.ts";
import { makeControl } from "./controls/index.ts";
import { isControl, placeOf, isElement } from "./dom.ts";
import { formsIn } from "./forms.ts";
import { judged, judgedOnwards, type Judgement } from "./judging/judged.ts";
import { Listening } from "./listening.ts";
import { type OutputOptions, type OutputSource, showOutput } from "./output.ts";
import { type ListText, showList } from "./list/boundList.ts";
import { askOnPage } from "./dialog/pageAsker.ts";
import { showRelevance } from "./relevance.ts";
import { bindStatus } from "./status.ts";
import { makeStatusLater } from "./statusLater.ts";
import { BoundSteps } from "./steps/boundSteps.ts";
import { formName, memberOf } from "./memberOf.ts";
import { offerLocale } from "./pageLocale.ts";
import { type PageThings, sortThings } from "./pageThings.ts";
import { PageParts } from "./PageParts.ts";
import { type Table, type View, viewOf, type ViewState } from "../table/index.ts";
import { surveyed } from "./survey.ts";

/**
 * Binds a page: each form to the entry given under its name, what has `data-name` to the rows given under that name by `asGrid`,
 * `asList` or `asRows`, each button with `command="--x"` to the command under the
 * name `x`, outputs outside forms by `data-name="form.field"`, and `role="status"` to the notices. Steps given as `route`
 * show one of the elements with `data-name="route.step"`, fill those with `data-name="route"`, and have the commands
 * `--route-next`, `--route-back` and `--route-finish`. After it returns, every control shows its field and every
 * command's state is right. Questions of commands are asked in dialogs of this page as long as it is bound.
 *
 * @param root - the document, or the part of it that is meant
 * @throws `page` with `strict: true`, when page and models do not agree; `tooEarly` when the page is still being read
 * @example bindPage(document, { card, clear });
 */
export function bindPage(root: Document | Element, things: PageThings, options: BindOptions = {}): Binding {
  requirePage("bindPage", root, things);
  requireOptions("bindPage", options, bindOptions);
  const sorted = sortThings(things);
  const { entries, steps } = sorted;
  refuseTooEarly(root, [...entries.keys()]);
  const models = new Map([...entries].map(([name, entry]) => [name, entry.model]));
  const forms = formsIn(root).map((form) => surveyed(form, models.get(formName(form))));
  const judgement = judgedOnwards(
    options,
    (judge) => judge.ofPage(root, forms, sorted),
    (judge, verdicts) => judge.laterOfPage(root, sorted, verdicts),
  );
  const undoing = new Undoing();
  keepJudgement(undoing, root, judgement);
  const listening = new Listening(root);
  undoing.add(() => listening.stop());
  const page = new PageParts(root, sorted, listening);
  undoing.add(() => page.stop());
  page.look(forms);
  for (const [name, each] of steps) page.run(name, bindSteps(root, name, each, page.forms, undoing));
  page.look();
  page.follow();
  undoing.keep(makeStatusLater(root.ownerDocument ?? root));
  undoing.keep(askOnPage(root.ownerDocument ?? root));
  judgement.later?.begin();
  return bindingOf(undoing, judgement.verdicts, options.signal);
}

/** Lists what does not agree for `explain`, and has the judging end with the binding. */
function keepJudgement(undoing: Undoing, root: Document | Element, { verdicts, later }: Judgement): void {
  if (later === undefined) return;
  undoing.keep(later);
  undoing.keep(
    listUnder(root.ownerDocument ?? root, { kind: "page", path: "", element: root, thing: undefined, verdicts }),
  );
}

function bindSteps(
  root: Document | Element,
  name: string,
  steps: Steps,
  forms: ReadonlyMap<EntryState, BoundForm>,
  undoing: Undoing,
): Readonly<Record<string, Command>> {
  const form = forms.get(steps.entry[internal] as EntryState);
  const bound = new BoundSteps(root, name, steps, form);
  if (form !== undefined) {
    form.submitInstead = () => bound.submit();
    form.bringUp = (names) => bound.bringUp(names);
  }
  undoing.keep(bound);
  undoing.keep(listUnder(root.ownerDocument ?? root, { kind: "steps", path: name, element: root, thing: steps }));
  return { ...bound.commands };
}

/** A classic script in the head runs before the forms are there, and would find nothing. */
function refuseTooEarly(root: Document | Element, names: readonly string[]): void {
  const document = root.ownerDocument ?? root;
  if (document.readyState !== "loading") return;
  const there = formsIn(root).map((form) => formName(form));
  if (names.every((name) => there.includes(name))) return;
  throw new IronwoodError("tooEarly", "bindPage was called while the page was still being read", {
    expected: 'a call from <script type="module">, or after DOMContentLoaded',
  });
}

/** Binds one form to one entry, whatever the form's name. */
export function bindForm(form: HTMLFormElement, entry: AnyEntry, options: BindOptions = {}): Binding {
  requireElement("bindForm", form, "form");
  requireEntry("bindForm", entry);
  requireOptions("bindForm", options, bindOptions);
  return boundForm(form, entry, options).binding;
}

/** The same, for what does something else than save when the form is submitted. */
export function boundForm(
  form: HTMLFormElement,
  entry: AnyEntry,
  options: BindOptions,
): { readonly binding: Binding; readonly bound: BoundForm } {
  const model = entry.model as AnyModel;
  const survey = surveyed(form, model);
  const judgement = judgedOnwards(
    options,
    (judge) => judge.ofForm(survey, entry[internal] as EntryState),
    (judge, verdicts) => judge.laterOfForm(form, model, verdicts),
  );
  // Controls tied to it by `form=` may stand outside it, and are heard at the root they share.
  const contains = memberOf(form, "contains");
  const outside = memberOf(form, "id") !== "" && [...memberOf(form, "elements")].some((element) => !contains(element));
  const listening = new Listening(outside ? memberOf(form, "getRootNode")() : form);
  const undoing = new Undoing();
  keepJudgement(undoing, form, judgement);
  undoing.add(() => listening.stop());
  const bound = new BoundForm(form, entry[internal] as EntryState, listening, survey);
  undoing.add(() => bound.stop());
  for (const element of survey.statuses) undoing.keep(bindStatus(element));
  judgement.later?.begin();
  return { binding: bindingOf(undoing, judgement.verdicts, options.signal), bound };
}

/** Binds one control, or the radio buttons or check boxes of one group, to one field: what a `name` in a form does. */
export function bindControl(
  controls: Element | readonly Element[],
  field: AnyField,
  options: BindOptions = {},
): Binding {
  for (const each of Array.isArray(controls) ? controls : [controls]) requireElement("bindControl", each);
  requireArgument(
    typeof field === "object" && (field as unknown) !== null && internal in field,
    "bindControl",
    field,
    "a field of an entry, as card.fields.girth",
  );
  requireOptions("bindControl", options, bindOptions);
  const elements = isElement(controls) ? [controls] : [...controls];
  const [first] = elements;
  const state = field[internal];
  if (first === undefined || !(state instanceof FieldState) || !elements.every(isControl))
    throw new IronwoodError(
      "unsuitedControl",
      `bindControl was given ${first === undefined ? "nothing" : placeOf(first)} for the field "${field.name}"`,
      {
        expected:
          state instanceof FieldState ? "an input, a textarea or a select" : "bindOutput for a calculated field",
      },
    );
  const shown = elements.map((element) => ({ element, name: field.name }));
  const model = state.owner.model;
  const verdicts = judged(options, (judge) => judge.ofTemplate(first, shown, model));
  const listening = new Listening(first.getRootNode());
  const undoing = new Undoing();
  undoing.add(() => listening.stop());
  const prefix = formName(first.closest("form")) || "entry";
  nameRadios(elements, `${prefix}.${field.name}`, undoing);
  const control = makeControl(state, elements, {
    listening,
    prefix,
    say: (name, facts) => say(field.locale, name, facts),
    sayOf: (inEnglish, name, facts) => sayer(inEnglish)(field.locale, name, facts),
  });
  control?.start();
  undoing.add(() => control?.stop());
  return bindingOf(undoing, verdicts, options.signal);
}

/** Radio buttons without a name are no group for the platform. */
function nameRadios(elements: readonly Element[], name: string, undoing: Undoing): void {
  for (const element of elements) {
    const radio = element as HTMLInputElement;
    if (element.localName !== "input" || radio.type !== "radio" || radio.name !== "") continue;
    radio.name = name;
    undoing.add(() => radio.removeAttribute("name"));
  }
}

/** Has a button run a command: what `command="--x"` does. */
export function bindCommand(button: HTMLButtonElement, command: Command, options: BindOptions = {}): Binding {
  requireElement("bindCommand", button, "button");
  requireArgument(command instanceof Command, "bindCommand", command, "a command, as command({ run }) makes one");
  requireOptions("bindCommand", options, bindOptions);
  const listening = new Listening(button.getRootNode());
  const undoing = new Undoing();
  undoing.add(() => listening.stop());
  undoing.keep(new CommandButton(button, command, listening));
  return bindingOf(undoing, [], options.signal);
}

/**
 * Shows a field or an expression in an element, live, or in one of its attributes. The window's title is
 * `document.querySelector("title")`.
 *
 * @example bindOutput(document.querySelector("title")!, () => `Tree card ${card.values.tag}`);
 */
export function bindOutput(element: Element, source: OutputSource, options: BindOptions & OutputOptions = {}): Binding {
  requireElement("bindOutput", element);
  requireArgument(
    typeof source === "function" || (typeof source === "object" && (source as unknown) !== null && internal in source),
    "bindOutput",
    source,
    "a field of an entry, or a function that gives what is shown",
  );
  requireOptions("bindOutput", options, { ...bindOptions, attribute: "text", schemes: "list" });
  const undoing = new Undoing();
  const thing = typeof source === "function" ? undefined : source;
  const as = options.attribute === undefined ? "output" : `output in ${options.attribute}`;
  const { attribute, schemes } = options;
  const isAllowed = attribute === undefined ? undefined : allowedIn(attribute, element, schemes);
  keepListed(undoing, "output", element, thing, () => showOutput(element, source, options, isAllowed), as);
  return bindingOf(undoing, [], options.signal);
}

/** @throws `unknownOption`, `wrongOption`, `wrongType` for what is nothing to show rows by */
export function requireListOptions(call: string, options: object): void {
  requireOptions(call, options, { ...bindOptions, show: "any" });
  const { show } = options as { readonly show?: unknown };
  const isText = show === undefined || typeof show === "string" || typeof show === "function" || Array.isArray(show);
  requireArgument(isText, `show of ${call}`, show, "a field, a list of fields, or a function of the row");
}

/**
 * Shows the rows of a view, or of a table, as the options of a `select`: its current row, or in one that takes several what is
 * selected. Several lists of one view are in step.
 *
 * @param options.show - what stands for a row: a field, several, or a text of your own; default: its key
 * @throws `unknownField` with the nearest name
 * @example bindList(document.querySelector("#species")!, shown, { show: "species" });
 */
export function bindList<M extends AnyModel>(
  select: HTMLSelectElement,
  rows: View<M> | Table<M>,
  options: BindOptions & { readonly show?: ListText<RowOf<M>> | undefined } = {},
): Binding {
  requireElement("bindList", select, "select");
  requireRows("bindList", rows);
  requireListOptions("bindList", options);
  const { show, signal } = options;
  const undoing = new Undoing();
  const shown = viewOf(rows)[internal] as ViewState;
  offerLocale(select, shown);
  keepListed(undoing, "list", select, shown, () => showList(select, shown, show));
  return bindingOf(undoing, [], signal);
}

/**
 * Has an element be there as long as a condition holds: a part of the page that is no field and no group of the model.
 *
 * @example bindRelevant(document.querySelector("#crane")!, () => (order.values.weight ?? 0) > 500);
 */
export function bindRelevant(element: HTMLElement, condition: () => boolean, options: BindOptions = {}): Binding {
  requireElement("bindRelevant", element);
  requireArgument(typeof condition === "function", "bindRelevant", condition, "a function that gives true or false");
  requireOptions("bindRelevant", options, bindOptions);
  const undoing = new Undoing();
  undoing.keep(showRelevance(element, condition));
  return bindingOf(undoing, [], options.signal);
}
