import { expect, jest, test } from "@jest/globals";
import { addLanguage, follow, integer, type Model, model, newEntry, number, oneOf, text } from "../src/index.ts";
import { german } from "../src/messages/de/index.ts";
import { english } from "../src/model/index.ts";

test("of 200 rules over 300 fields, a key press runs those again that read its field, and no other", () => {
  const names = Array.from({ length: 300 }, (_, place) => `count${place}`);
  const runs = new Map<string, number>();
  let plots = model(Object.fromEntries(names.map((name) => [name, integer({ default: 1 })]))) as Model<
    Record<string, ReturnType<typeof integer>>
  >;
  for (let place = 0; place < 200; place++)
    plots = plots.rule(`rule${place}`, {
      shownAt: [`count${place}`],
      holds: (row) => {
        runs.set(`rule${place}`, (runs.get(`rule${place}`) ?? 0) + 1);
        const read = row as Record<string, number>;
        return read[`count${place}`]! + read[`count${(place * 7 + 1) % 300}`]! < 50;
      },
    });
  const entry = newEntry(plots, { locale: "en" });
  const told = jest.fn();
  follow(() => entry.problems, told);
  expect([...runs.values()]).toEqual(Array(200).fill(1));
  for (let place = 0; place < 300; place++) {
    const reading = Array.from({ length: 200 }, (_, rule) => rule).filter(
      (rule) => rule === place || (rule * 7 + 1) % 300 === place,
    );
    runs.clear();
    (entry.fields as Record<string, { enter(text: string): void }>)[`count${place}`]!.enter("2");
    expect([...runs]).toEqual(expect.arrayContaining(reading.map((rule) => [`rule${rule}`, 1])));
    expect(runs.size).toBe(reading.length);
  }
  expect(told).not.toHaveBeenCalled();
});

test("words are replaced for one rule, one field, one application and one language", () => {
  const words = (locale: string): string[] => {
    const site = newEntry(
      model({
        plot: text({
          required: true,
          minLength: 3,
          messages: {
            valueMissing: "Read it off the stake.",
            tooShort: ({ count, limit }, language) => `${language}: ${count} of ${limit}`,
          },
        }),
        area: number({ minimum: 1 }),
        soil: oneOf(["clay"], { required: true }),
      }).rule("wide", {
        shownAt: ["area"],
        message: (language) => (language === "de" ? "Zu groß." : "Too large."),
        holds: (s) => s.area === undefined || s.area < 100,
      }),
      { locale },
    );
    const first = site.problems.map(({ message }) => message);
    site.fields.plot.enter("P");
    site.fields.area.enter("0");
    const second = site.problems.map(({ message }) => message);
    site.fields.area.enter("200");
    return [...first, ...second, ...site.fields.area.problems.map(({ message }) => message)];
  };
  addLanguage(german);
  addLanguage({ tag: "en-x-hill", messages: { choiceMissing: () => "Pick one, will you." } });
  expect(words("en")).toEqual([
    "Read it off the stake.",
    "Choose one.",
    "en: 1 of 3",
    "Enter 1 or more.",
    "Choose one.",
    "Too large.",
  ]);
  expect(words("de").slice(1)).toEqual([
    "Bitte wählen Sie etwas aus.",
    "de: 1 of 3",
    "Geben Sie 1 oder mehr ein.",
    "Bitte wählen Sie etwas aus.",
    "Zu groß.",
  ]);
  addLanguage({ tag: "de", messages: { choiceMissing: () => "Wähl was." } });
  expect(words("de-AT")).toContain("Wähl was.");
  expect(words("de-AT")).toContain("Geben Sie 1 oder mehr ein.");
  addLanguage({ tag: "en", messages: { choiceMissing: () => "Choose." } });
  expect(words("en")).toContain("Choose.");
  addLanguage(english);
  addLanguage(german);
});

test("a word or a code that there is none of is refused with the nearest", () => {
  expect(() => text({ messages: { valueMising: "x" } as never })).toThrow(/valueMising.*valueMissing/s);
  expect(() => addLanguage({ tag: "en", messages: { chooseMissing: () => "" } as never })).toThrow(
    /chooseMissing.*choiceMissing/s,
  );
});

test("a condition may be a reason: why it is required is the message, why it is read-only is told", () => {
  const card = newEntry(
    model({ condition: integer({ default: 1 }), notes: text(), tag: text() })
      .required({ notes: (t) => t.condition === 3 && "Say what is wrong with a failing tree." })
      .readOnly({ tag: (t) => (t.condition === 3 ? "A failing tree keeps its tag." : false) }),
    { locale: "en" },
  );
  expect([card.fields.notes.required, card.fields.tag.readOnly, card.fields.tag.reason]).toEqual([
    false,
    false,
    undefined,
  ]);
  card.values.condition = 3;
  expect(card.problems).toMatchObject([{ code: "valueMissing", message: "Say what is wrong with a failing tree." }]);
  expect([card.fields.tag.readOnly, card.fields.tag.reason]).toEqual([true, "A failing tree keeps its tag."]);
});
