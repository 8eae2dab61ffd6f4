import { type BoundThings, judgeForm, judgePage, type Verdict } from "../../markup/index.ts";
import type { EntryState } from "../../entry/index.ts";
import type { AnyModel } from "../../model/index.ts";
import { linkedTables } from "../../rows/index.ts";
import { formName, memberOf } from "../memberOf.ts";
import type { SortedThings } from "../pageThings.ts";
import type { Survey } from "../survey.ts";
import { isBound } from "../takeOver.ts";
import { Arrivals } from "./Arrivals.ts";
import { formFacts, pageFacts, templateFacts } from "./facts.ts";
import type { Judge } from "./Judge.ts";
import { report } from "./report.ts";

export type { Judge, LaterJudging } from "./Judge.ts";

const modelIn =
  ({ entries }: SortedThings) =>
  (form: HTMLFormElement): AnyModel | undefined =>
    entries.get(formName(form))?.model;

/** The fields whose rows somebody has as a table: what shows them may stand anywhere. */
const fieldsAsTables = (entry: EntryState): readonly string[] => [...linkedTables(entry).keys()];

/**
 * Of a form that is bound already and is bound again, no contradiction is told: its controls have attributes by now that binding has given
 * them.
 */
const asFound = (forms: readonly Survey[], verdicts: readonly Verdict[]): readonly Verdict[] =>
  forms.some(({ form }) => isBound("form", form)) ? verdicts.filter(({ code }) => code !== "contradiction") : verdicts;

/** What a page is judged by. */
const boundThings = ({ entries, commands, steps, parts }: SortedThings): BoundThings => ({
  models: new Map([...entries].map(([name, entry]) => [name, entry.model])),
  commands: [...commands.keys()],
  unsavable: [...entries].filter(([, entry]) => !entry.canSave).map(([name]) => name),
  asTables: new Map([...entries].map(([name, entry]) => [name, fieldsAsTables(entry)])),
  steps: new Map([...steps].map(([name, each]) => [name, each.names])),
  parts: new Map([...parts].map(([name, { what, names, elements }]) => [name, { elements, names, what }] as const)),
});

/** Whether it says something of an element, and not that there is none. */
const isOfElement = ({ code, place }: Verdict): boolean => code !== "noControl" && place !== "the page";

/**
 * The judge of pages. It is there by itself in development, in tests, and wherever a bundle is not for production. In a bundle for
 * production, where it would cost every page its bytes, it judges a page that it is given for: `bindPage(document, things, { judge })`.
 */
export const judge: Judge = {
  report,
  ofPage: (root, forms, things) => asFound(forms, judgePage(pageFacts(root, forms), boundThings(things))),
  ofForm: (survey, entry) => asFound([survey], judgeForm(formFacts(survey), entry.model, fieldsAsTables(entry))),
  laterOfPage: (root, things, verdicts) =>
    new Arrivals(root, verdicts, modelIn(things), (arrived) => [
      // What the page has not got yet was said when it was bound.
      ...judgePage(arrived, boundThings(things)).filter(({ place }) => place !== "the page"),
      ...judgePage({ forms: arrived.grown, outputs: [], commands: [] }, boundThings(things)).filter(isOfElement),
    ]),
  laterOfForm: (form, model, verdicts) =>
    new Arrivals(
      memberOf(form, "getRootNode")(),
      verdicts,
      () => model,
      ({ grown }) =>
        grown.filter(({ element }) => element === form).flatMap((facts) => judgeForm(facts, model).filter(isOfElement)),
    ),
  ofTemplate: (container, shown, model) =>
    judgeForm(templateFacts(container, shown), model).filter(({ code }) => code !== "noControl"),
};
