/** The survey as it is filled in: its entry, the steps through it and its commands. No page. */
import { command, newEntry, redoCommand, steps, undoCommand } from "ironwood";
import { httpStore } from "ironwood/browser";
import { type PlotRegistry, siteSurvey } from "./survey.ts";

/** The registry of plots answers as it is told to on the page: at once, slowly, with a failure, or not at all. */
export const behaviour = { of: "prompt" };

const registry: PlotRegistry = {
  async keeperOf(plot, { signal }) {
    const address = `../service/plots/${encodeURIComponent(plot)}?behaviour=${behaviour.of}`;
    const answer = await fetch(address, { signal: signal as AbortSignal }).catch(() => {
      throw new Error("the registry of plots can't be reached");
    });
    if (!answer.ok) throw new Error("the registry of plots is out of order");
    const { keeper } = (await answer.json()) as { keeper?: string };
    return keeper;
  },
};

const model = siteSurvey(registry);
export const surveys = httpStore("../service/surveys", model);

export const survey = newEntry(model, {
  afterSave: "startNew",
  save: (row, { signal }) => surveys.append(row, { signal }),
});

export const route = steps(survey, {
  place: ["plot", "district", "surveyor", "surveyedOn"],
  ground: { fields: ["soil", "slope", "wet", "drains"], title: "The ground" },
  planting: ["area", "purpose", "species", "trees", "spacing", "needed"],
  access: ["access"],
  finish: { fields: ["remarks"], title: "Look over" },
});

export const undo = undoCommand(survey);
export const redo = redoCommand(survey);

export const startAnew = command({
  title: "Start anew",
  allowed: () => survey.changed || "There is nothing to clear: the survey is blank.",
  confirm: () => `Take away all that was entered${survey.values.plot === "" ? "" : ` for ${survey.values.plot}`}?`,
  keyShortcuts: "Alt+Shift+N",
  run: () => {
    survey.startNew();
    route.begin();
    return "The survey is blank again. Undo brings it back.";
  },
});

/** Reads the kept surveys one by one, so that there is something to wait for and to stop. */
export const countTrees = command({
  title: "Count the trees of all surveys",
  async run({ signal, progress }) {
    let found = 0;
    let trees = 0;
    for await (const each of surveys.read()) {
      if (signal.aborted) return `Stopped after ${found} surveys: ${trees} trees.`;
      if (!each.ok) continue;
      found += 1;
      trees += each.row.trees;
      progress(undefined, `${found} surveys read`);
      await new Promise((done) => setTimeout(done, 150));
    }
    return `${found} surveys, ${trees} trees.`;
  },
});

export const stopCounting = command({
  title: "Stop",
  relevant: () => countTrees.busy,
  run: () => countTrees.stop(),
});
