import { mirror, type Stoppable } from "../../engine/index.ts";
import type { Steps } from "../../entry/index.ts";
import { showLines } from "../dom.ts";
import { stoppable } from "../stoppable.ts";

/**
 * Fills a `<dl>` with what was entered: a `div` for each field, with its title and what it shows. What is blank says so and
 * has `data-not-set`; the first field of each step has the step in `data-first`.
 *
 * @param own - the step in which the list stands: its fields are there to be seen
 */
export function showSummary(list: HTMLElement, steps: Steps, own: string | undefined): Stoppable {
  const document = list.ownerDocument;
  const showing = mirror(() => {
    const parts = steps.summary.filter(({ step }) => step !== own);
    const rows = parts.flatMap(({ step, items }) =>
      items.map(({ title, text, blank }, place) => {
        const row = document.createElement("div");
        if (place === 0) row.dataset["first"] = step;
        const term = document.createElement("dt");
        term.textContent = title;
        const value = document.createElement("dd");
        showLines(value, text);
        if (blank) value.dataset["notSet"] = "";
        row.append(term, value);
        return row;
      }),
    );
    list.replaceChildren(...rows);
  }, "the summary of the steps");
  return stoppable(() => {
    showing.stop();
    list.replaceChildren();
  });
}
