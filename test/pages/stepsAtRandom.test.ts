/** A form in steps with a rule that asks, rows inside, a step that may be passed over: random keys, presses, texts, undo, and answers that come late. */
import { afterAll, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { seeded, times } from "../seeded.ts";
import { changing, happenAtRandom, pressing, STEPS, typing } from "./atRandom.ts";
import { closeBrowser, pageWith } from "./support.ts";

afterAll(closeBrowser);

const markup = `<p><button id="before">Before</button></p><p data-name="route"></p><ol data-name="route"></ol>
  <form name="survey">
  <section data-name="route.place"><h2>Place</h2><label>Plot <input name="plot"></label>
    <label><input type="checkbox" name="planted"> Planted</label></section>
  <section data-name="route.soil"><h2>Soil</h2><label>Depth <input name="depth"></label>
    <label><input type="radio" name="soil" value="clay"> Clay</label><label><input type="radio" name="soil" value="sand"> Sand</label></section>
  <section data-name="route.plants"><h2>Plants</h2>
    <ul data-name="lines"><template><li><input name="species" aria-label="Species"><input name="count" aria-label="Count"></li></template></ul>
    <button type="button" command="--add-line"></button></section>
  <section data-name="route.look"><h2>Look over</h2><dl data-name="route"></dl></section>
  <button type="button" command="--route-back"></button><button command="--route-next"></button><button type="button" command="--route-finish"></button>
  <button type="button" command="--undo"></button></form><p role="status"></p>`;

async function withSteps(): Promise<{ page: Page; errors: string[] }> {
  const watched = await pageWith(markup);
  await watched.page.evaluate(() => {
    const { asRows, bindPage, boolean, command, integer, model, newEntry, number, oneOf, rows, rowsOf, steps } =
      ironwood;
    const { text, undoCommand, view } = ironwood;
    const line = model({ species: text({ required: true }), count: integer({ required: true, minimum: 1 }) });
    const survey = model({
      plot: text({ required: true, pattern: "[A-Z0-9]{1,4}", tidy: { letters: "upper" } }),
      planted: boolean(),
      depth: number({ required: true, minimum: 0, maximum: 100 }),
      soil: oneOf(["clay", "sand"]),
      lines: rows(line),
    })
      .relevant({ lines: (row) => row.planted })
      .required({ soil: (row) => row.depth > 50 && "Say what so deep a soil is." })
      .rule("plotIsFree", {
        shownAt: ["plot"],
        quiet: 5,
        async holds(row, { signal }) {
          const { plot } = row;
          await new Promise((go) => setTimeout(go, plot.length * 4));
          if (signal.aborted) throw signal.reason;
          return !plot.includes("X") || "Somebody is surveying it.";
        },
      });
    const saved: { row: string; wasRight: boolean }[] = [];
    const entry = newEntry(survey, {
      locale: "en",
      afterSave: "startNew",
      save: (row) =>
        void saved.push({ row: JSON.stringify(row), wasRight: !row.plot.includes("X") && row.depth <= 100 }),
    });
    const route = steps(entry, { place: ["plot", "planted"], soil: ["depth", "soil"], plants: ["lines"], look: [] });
    const lines = rowsOf(entry, "lines");
    const addLine = command({ title: "Add a line", run: () => void lines.insert({ species: "Acer", count: 1 }) });
    bindPage(
      document,
      { survey: entry, route, lines: asRows(view(lines)), addLine, undo: undoCommand(entry) },
      { strict: true },
    );
    const other: Record<string, (number: number) => unknown> = {
      plot: (number) => (entry.values.plot = ["", "A1", "X1", "BB", "toolong"][number % 5]!),
      planted: (number) => (entry.values.planted = number % 2 === 0),
      depth: (number) => (entry.values.depth = number % 6 === 0 ? undefined : number % 120),
      soil: (number) => (entry.values.soil = ([undefined, "clay", "sand"] as const)[number % 3]),
      undo: () => entry.undo(),
      redo: () => entry.redo(),
      revert: (number) => (number % 3 === 0 ? entry.revert() : undefined),
      fill: () => Object.assign(entry.values, { plot: "B7", planted: false, depth: 20 }),
      finish: () => route.finish(),
      goTo: (number) => route.goTo(route.names[number % 4]!),
    };
    Object.assign(kept, {
      other,
      async faults(): Promise<string[]> {
        // Rules that ask have answered by then.
        await new Promise((go) => setTimeout(go, 60));
        const { found, differs } = newDifferences();
        const sections = [...document.querySelectorAll<HTMLElement>("section")];
        const there = sections.filter(({ hidden }) => !hidden).map((each) => each.dataset["name"]);
        differs("what is there", there.join(), `route.${route.current}`);
        const relevant = route.list.map(({ name }) => name);
        if (!relevant.includes(route.current)) found.push(`${route.current} is not relevant`);
        differs("whether plants are a step", relevant.includes("plants"), entry.values.planted);
        const items = [...document.querySelectorAll("ol[data-name=route] > li")];
        differs("the steps in the list", items.length, relevant.length);
        differs(
          "the stages",
          items.map((each) => each.getAttribute("data-stage") === "current").indexOf(true),
          relevant.indexOf(route.current),
        );
        for (const step of route.list)
          if (step.current !== (step.name === route.current))
            found.push(`${step.name} says that it is current: ${step.current}`);
        for (const name of ["plot", "depth"] as const) {
          const control = document.forms[0]!.elements.namedItem(name) as HTMLInputElement;
          const field = entry.fields[name];
          if (document.activeElement !== control)
            differs(name, control.value, field.unreadable ? field.text : field.display);
          differs(
            `aria-invalid of ${name}`,
            control.getAttribute("aria-invalid") === "true",
            field.visibleProblems.some(({ severity }) => severity === "error"),
          );
        }
        differs(
          "lines",
          document.querySelectorAll("[data-name=lines] > li:not([data-gone])").length,
          entry.values.lines.length,
        );
        if (route.current === "look") {
          const told = document.querySelector("dl")!.textContent;
          for (const { items: parts } of route.summary)
            for (const { text } of parts) if (!told.includes(text)) found.push(`${text} is not in the summary`);
        }
        if (document.activeElement?.closest("[hidden]") != null) found.push("the focus is in what is hidden");
        for (const { row, wasRight } of saved) if (!wasRight) found.push(`${row} was saved and is wrong`);
        return found;
      },
      savedCount: () => saved.length,
    });
  });
  return watched;
}

const keys = [
  ...["Tab", "Tab", "Shift+Tab", "ArrowDown", "Space", "Enter", "Enter", "Escape", "Backspace", "Control+a"],
  ...["Control+z", "Control+y", "Alt+ArrowLeft"],
];
const typed = ["A1", "x", "31.5", "X", "7", "99", "few", "B"];

test("at random: one step is there, all that it shows is so, and nothing wrong is saved", async () => {
  const random = seeded(Number(process.env["STEPS_SEED"] ?? 9301));
  const rounds = times(24, 0.05);
  let savedCount = 0;
  for (let round = 0; round < rounds; round++) {
    const { page, errors } = await withSteps();
    await page.focus("#before");
    const press = async (): Promise<string> => {
      const all = page.locator("body :is(input, button):visible:not(:disabled)");
      const control = all.nth(random.below(await all.count()));
      const name = await control.evaluate((each) => each.getAttribute("name") ?? each.textContent.slice(0, 20));
      await control.click({ force: true, timeout: 2_000 }).catch(() => undefined);
      return `press ${name}`;
    };
    const done = await happenAtRandom(
      `round ${round}`,
      random,
      [
        [6, pressing(page, random, keys)],
        [5, typing(page, random, typed)],
        [3, changing(page, random)],
        [7, press],
      ],
      async () => [...(await page.evaluate(() => (kept["faults"] as () => Promise<string[]>)())), ...errors],
    );
    expect(done).not.toBe("");
    savedCount += await page.evaluate(() => (kept["savedCount"] as () => number)());
    await page.context().close();
  }
  console.info(`${rounds} forms in steps, ${rounds * STEPS} steps, ${savedCount} saved, seed ${random.seed}`);
}, 600_000);
