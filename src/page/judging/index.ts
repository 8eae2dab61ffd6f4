import { judgeForm, judgePage } from "../../markup/index.ts";
import { formFacts, pageFacts, templateFacts } from "./facts.ts";
import type { Judge } from "./Judge.ts";
import { report } from "./report.ts";

export type { Judge } from "./Judge.ts";

/**
 * The judge of pages. It is there by itself in development, in tests, and wherever a bundle is not for production. In a bundle for
 * production, where it would cost every page its bytes, it judges a page that it is given for: `bindPage(document, things, { judge })`.
 */
export const judge: Judge = {
  report,
  ofPage: (root, forms, things) => judgePage(pageFacts(root, forms), things),
  ofForm: (survey, model) => judgeForm(formFacts(survey), model),
  ofTemplate: (container, shown, model) =>
    judgeForm(templateFacts(container, shown), model).filter(({ code }) => code !== "noControl"),
};
