/** Random keys, presses and changes from elsewhere on a form of every sort of control: after each, the page shows what the entry holds. */
import { afterAll, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { seeded, times } from "../seeded.ts";
import { changing, happenAtRandom, pressing, STEPS, typing } from "./atRandom.ts";
import { closeBrowser, pageWith } from "./support.ts";

afterAll(closeBrowser);

const markup = `<p><button id="before">Before</button></p>
  <form name="card"><label>Tag <input name="tag"></label><label>Notes <textarea name="notes"></textarea></label>
  <label>Girth <input name="girth"></label><label>Stems <input name="stems" type="number"></label>
  <label>Price <input name="price"></label><label>Species <select name="species"></select></label>
  <label>Site <input name="site"></label>
  <fieldset><legend>Soil</legend><label><input type="radio" name="soil" value="clay"> Clay</label>
  <label><input type="radio" name="soil" value="sand"> Sand</label></fieldset>
  <label><input type="checkbox" name="fenced"> Fenced</label>
  <label><input type="checkbox" name="hazards" value="leaning"> Leaning</label><label><input type="checkbox" name="hazards" value="cavity"> Cavity</label>
  <label>Exposure <input type="range" name="exposure"></label><label>Cost <input name="cost"></label>
  <button type="button" name="marked">Marked</button>
  <output name="area"></output><button>Save</button><button type="reset">Reset</button></form><p role="status"></p>`;

async function withForm(locale: string): Promise<{ page: Page; errors: string[] }> {
  const watched = await pageWith(markup);
  await watched.page.evaluate((language) => {
    const { bindPage, boolean, decimal, Decimal, integer, model, newEntry, newHistory, number, oneOf, someOf, text } =
      ironwood;
    const card = model(
      {
        tag: text({ required: true, pattern: "[A-Z]{2}-[0-9]{4}", tidy: { trim: true, letters: "upper" } }),
        notes: text({ maxLength: 12 }),
        girth: number({ unit: "centimeter", minimum: 0, maximum: 900, display: { maximumFractionDigits: 1 } }),
        stems: integer({ minimum: 1, maximum: 5, default: 2 }),
        price: decimal({ minimum: "0", multipleOf: "0.25" }),
        species: oneOf(["Acer campestre", "Betula pendula", "Tilia cordata"]),
        site: oneOf(["Hill path", "River bank", "Long row"]),
        soil: oneOf(["clay", "sand"]),
        fenced: boolean(),
        hazards: someOf(["leaning", "cavity"]),
        exposure: integer({ minimum: 0, maximum: 10 }),
        cost: integer(),
        marked: boolean(),
        area: number({ display: { maximumFractionDigits: 2 } }),
      },
      { title: "Tree card" },
    )
      .calculated({ area: (row) => (row.girth! * row.stems) / 2 })
      .relevant({ cost: (row) => row.fenced })
      .readOnly({ site: (row) => row.soil === "sand" })
      .required({ girth: (row) => row.stems > 3 })
      .rule("slender", {
        shownAt: ["girth"],
        holds: (row) => row.girth! > row.stems || "Too slender.",
        severity: "warning",
      });
    const entry = newEntry(card, { locale: language, history: newHistory(), save: () => undefined, afterSave: "stay" });
    const bind = (): { stop(): void } => bindPage(document, { card: entry }, { strict: false });
    let binding = bind();
    const first = JSON.stringify(entry.values);
    const other: Record<string, (number: number) => void> = {
      girth: (number) => (entry.values.girth = number % 4 === 0 ? undefined : number / 8),
      stems: (number) => (entry.values.stems = (number % 7) as never),
      species: (number) =>
        (entry.values.species = ([undefined, "Acer campestre", "Tilia cordata"] as const)[number % 3]),
      price: (number) => (entry.values.price = Decimal.of(String(number % 9))),
      soil: (number) => (entry.values.soil = ([undefined, "clay", "sand"] as const)[number % 3]),
      fenced: (number) => (entry.values.fenced = number % 2 === 0),
      hazards: (number) => (entry.values.hazards = ([[], ["cavity"], ["leaning", "cavity"]] as const)[number % 3]!),
      revert: () => entry.revert(),
      bindAgain: (number) => {
        // Bound again over what is bound already, or after that was stopped.
        if (number % 2 === 0) binding.stop();
        const before = binding;
        binding = bind();
        if (number % 2 === 1) before.stop();
      },
      undo: () => void entry.undo(),
      redo: () => void entry.redo(),
      locale: (number) => (entry.locale = ["en", "de", "ar"][number % 3]!),
    };
    Object.assign(kept, {
      other,
      faults(): string[] {
        const { found, differs } = newDifferences();
        const form = document.forms[0]!;
        for (const name of ["tag", "notes", "girth", "stems", "price", "site", "cost"] as const) {
          const control = form.elements.namedItem(name) as HTMLInputElement;
          const field = entry.fields[name];
          if (document.activeElement !== control)
            differs(name, control.value, field.unreadable ? field.text : field.display);
          // Behaviour that the accessibility tree shows.
          differs(
            `aria-invalid of ${name}`,
            control.getAttribute("aria-invalid") === "true",
            field.visibleProblems.some(({ severity }) => severity === "error"),
          );
          differs(`readonly of ${name}`, control.readOnly, field.readOnly);
          differs(
            `whether ${name} is there`,
            control.closest("[hidden]") === null && !control.disabled,
            field.relevant,
          );
        }
        const species = form.elements.namedItem("species") as HTMLSelectElement;
        differs("species", species.value, entry.values.species ?? "");
        for (const radio of form.querySelectorAll<HTMLInputElement>("[name=soil]"))
          differs(`soil ${radio.value}`, radio.checked, entry.values.soil === radio.value);
        for (const box of form.querySelectorAll<HTMLInputElement>("[name=hazards]"))
          differs(`hazards ${box.value}`, box.checked, entry.values.hazards.includes(box.value as never));
        differs("fenced", form.querySelector<HTMLInputElement>("[name=fenced]")!.checked, entry.values.fenced);
        differs("marked", form.querySelector("[name=marked]")!.getAttribute("aria-pressed"), entry.values.marked);
        if (entry.values.exposure !== undefined)
          differs("exposure", form.querySelector<HTMLInputElement>("[name=exposure]")!.value, entry.values.exposure);
        differs("area", form.querySelector("[name=area]")!.textContent, entry.fields.area.display);
        const told = [...document.querySelectorAll("[data-problem]")]
          .filter((each) => each.closest("[hidden]") === null)
          .map((each) => each.textContent.trim());
        for (const { message, severity } of entry.visibleProblems)
          if (!told.some((each) => each.includes(message.trim())))
            found.push(`the ${severity} ${JSON.stringify(message)} is not told; told is ${JSON.stringify(told)}`);
        return found;
      },
      undoAll(): boolean {
        for (let steps = 0; steps < 500 && entry.undo().ok; steps++);
        return JSON.stringify(entry.values) === first;
      },
    });
  }, locale);
  return watched;
}

const keys = [
  ...["Tab", "Tab", "Tab", "Shift+Tab", "ArrowDown", "ArrowUp", "ArrowRight", "ArrowLeft", "Space", "Enter", "Escape"],
  ...["Delete", "Backspace", "Control+a", "Control+z", "Control+Shift+z", "Control+y", "Home", "End", "PageUp", "F2"],
];
const typed = ["7", "x", "31,5", "AB-0042", "ab-0042", " ", "12 cm", "a very long note", "t", "h", "0.25", "-", "٣"];

test("at random: every control shows what the entry holds, every visible problem is told, and undo leads back", async () => {
  const random = seeded(Number(process.env["FORM_SEED"] ?? 7001));
  const rounds = times(24, 0.125);
  for (let round = 0; round < rounds; round++) {
    const { page, errors } = await withForm(random.pick(["en", "de", "ar"]));
    await page.focus("#before");
    const press = async (): Promise<string> => {
      const all = page.locator("form :is(input, select, textarea, button):visible:not(:disabled)");
      const control = all.nth(random.below(await all.count()));
      const name = await control.evaluate((each) => each.getAttribute("name") ?? each.textContent);
      await control.click({ force: true });
      // The list of a select is the platform's own.
      await page.keyboard.press("Escape");
      return `press ${name}`;
    };
    const done = await happenAtRandom(
      `round ${round}`,
      random,
      [
        [9, pressing(page, random, keys)],
        [4, typing(page, random, typed)],
        [3, changing(page, random)],
        [4, press],
      ],
      async () => {
        const faults = await page.evaluate(async () => {
          await new Promise((go) => requestAnimationFrame(() => setTimeout(go, 1)));
          return (kept["faults"] as () => string[])();
        });
        // That it was bound twice is told, as it is to be.
        return [...faults, ...errors.filter((text) => !text.includes("was bound already"))];
      },
    );
    await page.focus("#before");
    const isBack = await page.evaluate(() => (kept["undoAll"] as () => boolean)());
    expect([round, done, isBack]).toEqual([round, done, true]);
    await page.context().close();
  }
  console.info(`${rounds} forms, ${rounds * STEPS} steps, seed ${random.seed}`);
}, 600_000);
