/** Conditions of every sort, alone and beside one of another sort: the page follows each of them. */
import { afterAll, expect, test } from "@jest/globals";
import { closeBrowser, pageWith } from "./support.ts";

afterAll(closeBrowser);

const sorts = ["relevant", "required", "readOnly", "proposed", "choices"] as const;
const pairs = sorts.flatMap((one, at) => [
  [one, one] as const,
  ...sorts.slice(at + 1).map((other) => [one, other] as const),
]);

test.each(pairs)("%s and %s", async (one, other) => {
  const { page, errors } = await pageWith(
    `<form name="card"><label>Soil <select name="soil"></select></label><label>First <input name="first"></label>
     <label>Second <select name="second"></select></label></form><p role="status"></p>`,
  );
  await page.evaluate(
    ([first, second]) => {
      const { bindPage, model, newEntry, oneOf, text } = ironwood;
      let card: unknown = model({
        soil: oneOf(["clay", "sand"], { default: "clay" }),
        first: text(),
        second: oneOf(["Acer", "Betula", "Tilia", "Salix"]),
      });
      /** A condition on a field, which is another on sand. */
      const add = (sort: string, name: "first" | "second"): void => {
        const works: Record<string, (row: { soil: string }) => unknown> = {
          relevant: (row) => row.soil === "clay",
          required: (row) => row.soil === "sand",
          readOnly: (row) => row.soil === "sand",
          proposed: (row) => (row.soil === "sand" ? "Betula" : "Acer"),
          choices: (row) =>
            row.soil === "sand"
              ? ["Betula", { const: "Acer", title: "Acer on sand" }]
              : ["Tilia", { const: "Acer", title: "Acer on clay" }],
        };
        card = (card as Record<string, (conditions: object) => unknown>)[sort]!({ [name]: works[sort] });
      };
      if (first !== second) add(first, "first");
      add(second, "second");
      bindPage(document, { card: newEntry(card as never, { locale: "en", save: () => undefined }) } as never);
    },
    [one, other] as const,
  );
  /** What of a control says how things are. */
  const seen = (name: string): Promise<unknown> =>
    page.$eval(`[name=${name}]`, (element) => {
      const control = element as HTMLInputElement | HTMLSelectElement;
      return {
        isThere: control.closest("[hidden]") === null && !control.disabled,
        required: control.getAttribute("aria-required") === "true" || control.required,
        readOnly: "readOnly" in control ? control.readOnly : control.getAttribute("aria-disabled") === "true",
        value: control.value,
        options:
          "options" in control ? [...control.options].map((each) => each.text).filter((text) => text !== "") : [],
      };
    });
  const all = ["Acer", "Betula", "Tilia", "Salix"];
  const right = (sort: string, isSand: boolean, isSelect: boolean): unknown => ({
    isThere: sort !== "relevant" || !isSand,
    required: sort === "required" && isSand,
    readOnly: sort === "readOnly" && isSand,
    value: sort !== "proposed" ? "" : isSand ? "Betula" : "Acer",
    options: !isSelect
      ? []
      : sort !== "choices"
        ? all
        : isSand
          ? ["Betula", "Acer on sand"]
          : ["Tilia", "Acer on clay"],
  });
  for (const soil of ["clay", "sand", "clay"]) {
    await page.selectOption("[name=soil]", soil);
    const isSand = soil === "sand";
    expect([soil, await seen("second")]).toEqual([soil, right(other, isSand, true)]);
    // Of a text, choices are suggestions, which are not in the control.
    if (one !== other)
      expect([soil, await seen("first")]).toEqual([soil, right(one === "choices" ? "" : one, isSand, false)]);
  }
  expect(errors).toEqual([]);
});
