/** The page's own text field and spinner keep to the control contract that other toolkits have to keep to. */
import { afterAll, expect, test } from "@jest/globals";
import { closeBrowser, pageWith } from "./support.ts";

afterAll(closeBrowser);

test.each(["text", "number"])("an input of type %s, bound in code, passes the conformance test", async (type) => {
  const { page, errors } = await pageWith("");
  const failed = await page.evaluate(async (given) => {
    const { bindControl, controlConformance } = ironwood;
    const found: string[] = [];
    const checks = controlConformance((field) => {
      document.body.innerHTML = `<label>It <input type="${given}"></label><button id="elsewhere">elsewhere</button>`;
      const input = document.querySelector("input")!;
      const binding = bindControl(input, field);
      return {
        type(text) {
          input.focus();
          if (input.readOnly) return;
          input.value = text;
          input.dispatchEvent(new InputEvent("input", { bubbles: true }));
        },
        leave: () => document.querySelector<HTMLElement>("#elsewhere")!.focus(),
        seen: () => ({
          text: input.value,
          problem: document.getElementById(input.getAttribute("aria-describedby") ?? "")?.textContent ?? "",
          readOnly: input.readOnly,
          required: input.required,
          relevant: !input.hidden,
        }),
        stop: () => binding.stop(),
      };
    });
    for (const { name, run } of checks)
      await run().catch((reason: unknown) => found.push(`${name}: ${(reason as Error).message}`));
    return [checks.length, ...found];
  }, type);
  expect(failed).toEqual([13]);
  // One check binds a text, for which a number field is told to be wrong.
  expect(errors.filter((error) => !error.includes('A number field does not suit the field "notes"'))).toEqual([]);
});
