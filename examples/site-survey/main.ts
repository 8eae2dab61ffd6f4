/** The page: binds the survey, its steps and its commands to the document. */
import { bindOutput, bindPage } from "ironwood/page";
import { behaviour, countTrees, redo, route, startAnew, stopCounting, survey, undo } from "./route.ts";

bindPage(document, { survey, route, undo, redo, startAnew, countTrees, stopCounting });
bindOutput(document.querySelector("title")!, () =>
  [survey.values.plot, route.position.title, "Site survey", "Thornbeck"].filter(Boolean).join(" · "),
);

const choice = document.querySelector<HTMLSelectElement>("#behaviour")!;
choice.addEventListener("change", () => (behaviour.of = choice.value));
