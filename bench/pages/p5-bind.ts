/** P5: binds a page of 10,000 controls. */
import { model, newEntry, text } from "../../src/index.ts";
import { bindForm } from "../../src/page/index.ts";

const CONTROLS = 10_000;
const names = Array.from({ length: CONTROLS }, (_, place) => `field${place}`);
const isRequired = (place: number): boolean => place % 2 === 0;
const described = (place: number): string | undefined => (place % 4 === 0 ? `What field ${place} is for` : undefined);
const start = (place: number): string => `value ${place}`;

const wide = model(
  Object.fromEntries(
    names.map((name, place) => [
      name,
      text({ required: isRequired(place), description: described(place), default: start(place) }),
    ]),
  ),
);

/** A new form in the page, the same for both sides. */
function newForm(): HTMLFormElement {
  const form = document.createElement("form");
  form.name = "wide";
  form.innerHTML = names.map((name) => `<label>${name} <input id="${name}" name="${name}"></label>`).join("");
  document.body.replaceChildren(form);
  return form;
}

const state = (form: HTMLFormElement): string =>
  form.outerHTML + [...form.elements].map((element) => (element as HTMLInputElement).value).join();

export const p5 = {
  newForm,
  state,
  byHand(form: HTMLFormElement): () => void {
    const values: Record<string, string> = {};
    form.noValidate = true;
    const stops: (() => void)[] = [];
    for (let place = 0; place < CONTROLS; place++) {
      const name = names[place]!;
      const input = document.getElementById(name) as HTMLInputElement;
      const listener = (): void => {
        values[name] = input.value;
      };
      input.addEventListener("input", listener);
      values[name] = start(place);
      input.value = start(place);
      const description = described(place);
      if (description !== undefined) input.setAttribute("aria-description", description);
      if (isRequired(place)) input.required = true;
      stops.push(() => input.removeEventListener("input", listener));
    }
    return () => stops.forEach((stop) => stop());
  },
  ironwood(form: HTMLFormElement): () => void {
    const binding = bindForm(form, newEntry(wide, { locale: "en" }));
    return () => binding.stop();
  },
};
