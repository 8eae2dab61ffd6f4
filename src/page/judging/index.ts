import { type BoundThings, judgeForm, judgePage, type Verdict } from "../../markup/index.ts";
import type { AnyModel } from "../../model/index.ts";
import { formName, memberOf } from "../memberOf.ts";
import { Arrivals } from "./Arrivals.ts";
import { formFacts, pageFacts, templateFacts } from "./facts.ts";
import type { Judge } from "./Judge.ts";
import { report } from "./report.ts";

export type { Judge, LaterJudging } from "./Judge.ts";

const modelIn =
  ({ models }: BoundThings) =>
  (form: HTMLFormElement): AnyModel | undefined =>
    models.get(formName(form));

/** Whether it says something of an element, and not that there is none. */
const isOfElement = ({ code, place }: Verdict): boolean => code !== "noControl" && place !== "the page";

/**
 * The judge of pages. It is there by itself in development, in tests, and wherever a bundle is not for production. In a bundle for
 * production, where it would cost every page its bytes, it judges a page that it is given for: `bindPage(document, things, { judge })`.
 */
export const judge: Judge = {
  report,
  ofPage: (root, forms, things) => judgePage(pageFacts(root, forms), things),
  ofForm: (survey, model) => judgeForm(formFacts(survey), model),
  laterOfPage: (root, things, verdicts) =>
    new Arrivals(root, verdicts, modelIn(things), (arrived) => [
      // What the page has not got yet was said when it was bound.
      ...judgePage(arrived, things).filter(({ place }) => place !== "the page"),
      ...judgePage({ forms: arrived.grown, outputs: [], commands: [] }, things).filter(isOfElement),
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
