/** P6: 10,000 input events through controls that are converted, checked, calculated from and shown. */
import { type AnyModel, model, newEntry, number } from "../../src/index.ts";
import { browserDrafts } from "../../src/browser/index.ts";
import { keepDraft } from "../../src/store/index.ts";
import { bindForm } from "../../src/page/index.ts";

const ROWS = 100;
const EVENTS = 10_000;
const MAXIMUM = 2_000;

function newForm(): HTMLFormElement {
  const form = document.createElement("form");
  form.lang = "en";
  form.innerHTML = Array.from(
    { length: ROWS },
    (_, place) =>
      `<p><label>Girth <input name="girth${place}" inputmode="decimal" autocomplete="off"></label><span id="m${place}" hidden></span><output name="diameter${place}"></output></p>`,
  ).join("");
  form.querySelectorAll("input").forEach((input, place) => input.setAttribute("aria-errormessage", `m${place}`));
  document.body.replaceChildren(form);
  return form;
}

/** What is typed, event by event: mostly right, sometimes too large, sometimes no number. */
const typed = (event: number): string =>
  event % 10 === 3 ? "abc" : event % 10 === 7 ? String(MAXIMUM + event) : `${event % 1_000}.5`;

function type(form: HTMLFormElement): void {
  const inputs = [...form.querySelectorAll("input")];
  for (let event = 0; event < EVENTS; event++) {
    const input = inputs[event % ROWS]!;
    input.value = typed(event);
    input.dispatchEvent(new InputEvent("input", { bubbles: true }));
  }
}

/** All that is left in the page: each element with its attributes in the order of their names, what it says and holds. */
const state = (form: HTMLFormElement): string =>
  [form, ...form.querySelectorAll("*")]
    .map((element) => {
      const attributes = [...element.attributes].map(({ name, value }) => `${name}="${value}"`).toSorted();
      const { value, validationMessage } = element as HTMLInputElement;
      const said = element.childElementCount === 0 ? element.textContent : "";
      return [element.localName, ...attributes, said, value, validationMessage].join("|");
    })
    .join("\n");

const shown = new Intl.NumberFormat("en", { maximumFractionDigits: 3 });

/** Declared once, as an application does. */
const trees = declared();

function declared(): AnyModel {
  const girths = Object.fromEntries(
    Array.from({ length: ROWS }, (_, place) => [
      `girth${place}`,
      number({ required: true, minimum: 0, maximum: MAXIMUM }),
    ]),
  );
  const diameters = Object.fromEntries(
    Array.from({ length: ROWS }, (_, place) => [`diameter${place}`, number({ display: { maximumFractionDigits: 3 } })]),
  );
  let all: AnyModel = model({ ...girths, ...diameters });
  for (let place = 0; place < ROWS; place++) {
    const girth = `girth${place}`;
    all = all.calculated({ [`diameter${place}`]: (t: Record<string, number>) => t[girth]! / Math.PI } as never);
  }
  return all;
}

export const p6 = {
  newForm,
  state,
  type,
  /** A handler for each control: reads, checks, writes the output, the error text and the states that go with it. */
  byHand(form: HTMLFormElement): () => void {
    const values: (number | undefined)[] = [];
    form.noValidate = true;
    form.querySelectorAll("input").forEach((input, place) => {
      const output = form.querySelector<HTMLOutputElement>(`[name=diameter${place}]`)!;
      const message = document.getElementById(`m${place}`)!;
      input.required = true;
      input.addEventListener("input", () => {
        const text = input.value.trim().replace(/,(?=\d{3}(\D|$))/g, "");
        const value = text === "" ? undefined : Number(text);
        let problem = "";
        let code = "";
        if (value === undefined) [code, problem] = ["valueMissing", "Enter a value."];
        else if (Number.isNaN(value))
          [code, problem] = ["badInput", "This is not a number. Enter a number, such as 31.5."];
        else if (value < 0) [code, problem] = ["rangeUnderflow", "Enter 0 or more."];
        else if (value > MAXIMUM) [code, problem] = ["rangeOverflow", `Enter ${shown.format(MAXIMUM)} or less.`];
        values[place] = Number.isNaN(value) ? undefined : value;
        const diameter = values[place] === undefined ? "" : shown.format(values[place] / Math.PI);
        if (output.textContent !== diameter) output.textContent = diameter;
        if (message.textContent !== problem) {
          message.textContent = problem;
          message.hidden = problem === "";
          input.setCustomValidity(problem);
          if (problem === "") {
            input.removeAttribute("aria-invalid");
            input.removeAttribute("aria-describedby");
            delete message.dataset["problem"];
          } else {
            input.setAttribute("aria-invalid", "true");
            input.setAttribute("aria-describedby", message.id);
            message.dataset["problem"] = code;
          }
        }
      });
    });
    return () => {};
  },
  ironwood(form: HTMLFormElement): () => void {
    const entry = newEntry(trees, { locale: "en" });
    const binding = bindForm(form, entry);
    void entry.check();
    return () => binding.stop();
  },
  /** The same, with a draft in the browser's storage. */
  withDraft(form: HTMLFormElement): () => void {
    const entry = newEntry(trees, { locale: "en" });
    const draft = keepDraft(entry, drafts, { name: "bench" });
    const binding = bindForm(form, entry);
    void entry.check();
    return () => {
      draft.stop();
      binding.stop();
    };
  },
};

const drafts = browserDrafts();
