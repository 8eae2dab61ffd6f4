/** Every control, as the tests of docs/controls.md use it. What is evaluated in the page is written as text. */
import type { Page } from "playwright-core";

export interface ControlSpec {
  readonly control: string;
  /** The markup; the field is called `it`. */
  readonly markup: string;
  /** The kind, with options as the text of an object. */
  readonly kind: (options: string) => string;
  /** A default, and another value, as JavaScript. */
  readonly standard: string;
  readonly other: string;
  /** What the control shows, as an expression over `el` (the first) and `all`. */
  readonly shown: string;
  readonly standardShown: unknown;
  readonly otherShown: unknown;
  readonly blankShown: unknown;
  /** What a person does to get from the default to the other value; and the same by keyboard alone, from the focus. */
  readonly act: (page: Page) => Promise<void>;
  readonly keys: (page: Page) => Promise<void>;
  /** A text that can't be read, where one can be typed. */
  readonly unreadable?: string;
  /** What tells that it is required, where HTML has that. */
  readonly required?: string;
  readonly readOnly: string;
}

const it = "[name=it]";
const fill = (text: string) => (page: Page) => page.locator(it).first().fill(text);
const typeOver = (text: string) => async (page: Page) => {
  await page.keyboard.press("Control+A");
  await page.keyboard.type(text);
};
/** Some engines have no control for months and weeks. */
const isTyped = (page: Page): Promise<boolean> => page.evaluate("document.querySelector('[name=it]').type === 'text'");
const press =
  (...keys: string[]) =>
  async (page: Page) => {
    for (const key of keys) await page.keyboard.press(key);
  };
const label = (control: string): string => `<label>It ${control}</label>`;

const textual = (type: string, standard: string, other: string, format = ""): ControlSpec => ({
  control: type === "text" ? "text field" : `text field, type ${type}`,
  markup: label(`<input type="${type}" name="it">`),
  kind: (options) => `text({ ${format} ...${options} })`,
  standard: JSON.stringify(standard),
  other: JSON.stringify(other),
  shown: "el.value",
  standardShown: standard,
  otherShown: other,
  blankShown: "",
  act: fill(other),
  keys: typeOver(other),
  required: "el.required",
  readOnly: "el.readOnly",
});

const native = (
  type: string,
  kind: string,
  standard: string,
  other: string,
  typed: (page: Page) => Promise<void>,
): ControlSpec => ({
  control: `${type} control`,
  markup: label(`<input type="${type}" name="it">`),
  kind: (options) => (kind.startsWith("text") ? `text({ format: "${type}", ...${options} })` : `${kind}(${options})`),
  standard: JSON.stringify(standard),
  other: JSON.stringify(other),
  shown: "el.value",
  standardShown: standard,
  otherShown: other,
  blankShown: "",
  act: fill(other),
  keys: typed,
  required: "el.required",
  readOnly: "el.readOnly",
});

const ticks = (type: string): string =>
  `<fieldset><legend>It</legend>${["oak", "elm", "ash"]
    .map((value) => `<label><input type="${type}" name="it" value="${value}"> ${value}</label>`)
    .join("")}</fieldset>`;
const trees = `["oak", "elm", "ash"]`;
const ticked = "all.filter((each) => each.checked).map((each) => each.value).join()";
const options = "[...el.selectedOptions].map((each) => each.value).join()";

const selectControl = (control: string, attributes: string, readOnly: string): ControlSpec => ({
  control,
  markup: label(`<select name="it" ${attributes}></select>`),
  kind: (given) => `oneOf(${trees}, ${given})`,
  standard: '"oak"',
  other: '"elm"',
  shown: options,
  standardShown: "oak",
  otherShown: "elm",
  blankShown: "",
  act: async (page) => {
    await page.locator(it).selectOption("elm");
  },
  keys: press("ArrowDown"),
  required: "el.required",
  readOnly,
});

export const controlList: readonly ControlSpec[] = [
  textual("text", "oak", "elm"),
  textual("search", "oak", "elm"),
  textual("email", "ab@thornbeck.example", "cd@thornbeck.example", 'format: "email",'),
  textual("url", "https://thornbeck.example/a", "https://thornbeck.example/b", 'format: "uri",'),
  textual("tel", "01632 960001", "01632 960002", 'format: "tel",'),
  textual("password", "acorn", "catkin", "writeOnly: true,"),
  {
    ...textual("text", "oak\nelm", "ash"),
    control: "text of several lines",
    markup: label('<textarea name="it"></textarea>'),
  },
  {
    ...textual("text", "31.5", "7.25"),
    control: "number in a text field",
    kind: (given) => `number(${given})`,
    standard: "31.5",
    other: "7.25",
    unreadable: "3,4,5",
  },
  {
    ...textual("text", "12.50", "99.95"),
    control: "exact decimal in a text field",
    kind: (given) => `decimal({ display: { minimumFractionDigits: 2 }, ...${given} })`,
    standard: 'Decimal.of("12.50")',
    other: 'Decimal.of("99.95")',
    unreadable: "a dozen",
  },
  {
    ...textual("text", "Nov 23, 2026", "Nov 24, 2026"),
    control: "date in a text field",
    kind: (given) => `date(${given})`,
    standard: '"2026-11-23"',
    other: '"2026-11-24"',
    act: fill("11/24/2026"),
    keys: typeOver("11/24/2026"),
    unreadable: "31 February 2026",
  },
  {
    ...textual("text", "3", "4"),
    control: "spinner of numbers",
    markup: label('<input type="number" name="it">'),
    kind: (given) => `integer({ minimum: 0, maximum: 9, ...${given} })`,
    standard: "3",
    other: "4",
    act: (page) => page.locator("[data-step='1']").click(),
    keys: press("ArrowUp"),
    unreadable: "many",
  },
  {
    ...textual("text", "oak", "elm"),
    control: "spinner of a list of values",
    markup: label('<input type="number" name="it">'),
    kind: (given) => `oneOf(${trees}, ${given})`,
    act: (page) => page.locator("[data-step='1']").click(),
    keys: press("ArrowUp"),
    unreadable: "yew",
  },
  {
    control: "slider",
    markup: label('<input type="range" name="it">'),
    kind: (given) => `integer({ minimum: 0, maximum: 10, ...${given} })`,
    standard: "3",
    other: "4",
    shown: "`${el.value} ${el.getAttribute('aria-valuetext')}`",
    standardShown: "3 3",
    otherShown: "4 4",
    blankShown: "0 not set",
    act: (page) => page.locator(it).fill("4"),
    keys: press("ArrowRight"),
    readOnly: "el.getAttribute('aria-disabled') === 'true'",
  },
  native("date", "date", "2026-11-23", "2026-11-24", async (page) => {
    await page.keyboard.type("11242026");
  }),
  native("time", "time", "14:30", "09:15", async (page) => {
    await page.keyboard.type("0915AM");
  }),
  native("datetime-local", "dateTime", "2026-11-23T14:30", "2026-11-24T09:15", async (page) => {
    await page.keyboard.type("11242026");
    // In some engines the hour comes by itself once the year has four digits.
    if (!(await page.evaluate("navigator.userAgent.includes('Firefox')"))) await page.keyboard.press("Tab");
    await page.keyboard.type("0915AM");
  }),
  native("month", "text", "2026-11", "2026-12", async (page) => {
    if (await isTyped(page)) return typeOver("12/2026")(page);
    await page.keyboard.type("De");
    await page.keyboard.press("Tab");
    await page.keyboard.type("2026");
  }),
  native("week", "text", "2026-W48", "2026-W49", async (page) => {
    if (await isTyped(page)) return typeOver("49/2026")(page);
    await page.keyboard.type("49");
    await page.keyboard.press("Tab");
    await page.keyboard.type("2026");
  }),
  {
    control: "colour control",
    markup: label('<input type="color" name="it">'),
    kind: (given) => `text({ format: "color", ...${given} })`,
    standard: '"#3a6b35"',
    other: '"#8a5a2b"',
    shown: "el.getAttribute('aria-description') === 'not set' ? 'not set' : el.value",
    standardShown: "#3a6b35",
    otherShown: "#8a5a2b",
    blankShown: "not set",
    act: (page) => page.locator(it).fill("#8a5a2b"),
    // The picker is the platform's; by key the colour is taken away, after which the page's script sets another.
    keys: async (page) => {
      await page.keyboard.press("Delete");
      await page.locator(it).fill("#8a5a2b");
    },
    readOnly: "el.getAttribute('aria-disabled') === 'true'",
  },
  {
    control: "check box for yes or no",
    markup: label('<input type="checkbox" name="it">'),
    kind: (given) => `boolean({ ${given.includes("required") ? "" : "unanswered: true,"} ...${given} })`,
    standard: "true",
    other: "false",
    shown: "el.indeterminate ? 'neither' : el.checked",
    standardShown: true,
    otherShown: false,
    blankShown: "neither",
    act: (page) => page.locator(it).click(),
    keys: press("Space"),
    readOnly: "el.getAttribute('aria-disabled') === 'true'",
  },
  {
    control: "check box for one of two values",
    markup: label('<input type="checkbox" name="it" value="fenced">'),
    kind: (given) => `oneOf(["fenced", "open"], ${given})`,
    standard: '"fenced"',
    other: '"open"',
    shown: "el.indeterminate ? 'neither' : el.checked",
    standardShown: true,
    otherShown: false,
    blankShown: "neither",
    act: (page) => page.locator(it).click(),
    keys: press("Space"),
    readOnly: "el.getAttribute('aria-disabled') === 'true'",
  },
  {
    control: "check boxes for a list",
    markup: ticks("checkbox"),
    kind: (given) => `someOf(${trees}, ${given})`,
    standard: '["oak"]',
    other: '["oak", "elm"]',
    shown: ticked,
    standardShown: "oak",
    otherShown: "oak,elm",
    blankShown: "",
    act: (page) => page.locator(it).nth(1).click(),
    keys: press("Tab", "Space"),
    readOnly: "all.every((each) => each.getAttribute('aria-disabled') === 'true')",
  },
  {
    control: "radio buttons",
    markup: ticks("radio"),
    kind: (given) => `oneOf(${trees}, ${given})`,
    standard: '"oak"',
    other: '"elm"',
    shown: ticked,
    standardShown: "oak",
    otherShown: "elm",
    blankShown: "",
    act: (page) => page.locator(it).nth(1).click(),
    keys: press("ArrowDown"),
    required: "all.every((each) => each.required)",
    readOnly: "all.every((each) => each.getAttribute('aria-disabled') === 'true')",
  },
  selectControl("drop-down list", "", "el.getAttribute('aria-disabled') === 'true'"),
  selectControl("list box for one", 'size="4"', "el.getAttribute('aria-readonly') === 'true'"),
  {
    ...selectControl("list box for several", "multiple", "el.getAttribute('aria-readonly') === 'true'"),
    kind: (given) => `someOf(${trees}, ${given})`,
    standard: '["oak"]',
    other: '["oak", "elm"]',
    otherShown: "oak,elm",
    act: async (page) => {
      await page.locator(it).selectOption(["oak", "elm"]);
    },
    keys: press("ArrowDown", "Shift+ArrowUp"),
  },
  {
    control: "toggle button",
    markup: '<button type="button" name="it">It</button>',
    kind: (given) => `boolean(${given})`,
    standard: "true",
    other: "false",
    shown: "el.ariaPressed",
    standardShown: "true",
    otherShown: "false",
    blankShown: "false",
    act: (page) => page.locator(it).click(),
    keys: press("Space"),
    readOnly: "el.getAttribute('aria-disabled') === 'true'",
  },
  {
    control: "toggle buttons, one of them",
    markup: `<fieldset><legend>It</legend>${["oak", "elm", "ash"].map((value) => `<button type="button" name="it" value="${value}">${value}</button>`).join("")}</fieldset>`,
    kind: (given) => `oneOf(${trees}, ${given})`,
    standard: '"oak"',
    other: '"elm"',
    shown: "all.filter((each) => each.ariaPressed === 'true').map((each) => each.value).join()",
    standardShown: "oak",
    otherShown: "elm",
    blankShown: "",
    act: (page) => page.locator(it).nth(1).click(),
    keys: press("Tab", "Space"),
    readOnly: "all.every((each) => each.getAttribute('aria-disabled') === 'true')",
  },
  {
    control: "combo box",
    markup: label('<input name="it">'),
    kind: (given) => `oneOf(${trees}, ${given})`,
    standard: '"oak"',
    other: '"elm"',
    shown: "el.value",
    standardShown: "oak",
    otherShown: "elm",
    blankShown: "",
    act: async (page) => {
      await page.locator(it).fill("el");
      await page.locator("[role=option]", { hasText: "elm" }).click();
    },
    keys: press("ArrowDown", "ArrowDown", "Enter"),
    unreadable: "yew",
    required: "el.required",
    readOnly: "el.readOnly",
  },
  {
    ...textual("text", "oak", "elm"),
    control: "text field with a datalist",
    markup: `${label('<input name="it" list="trees">')}<datalist id="trees"></datalist>`,
    kind: (given) => `oneOf(${trees}, ${given})`,
    unreadable: "yew",
  },
  {
    control: "picked file",
    markup: label('<input type="file" name="it">'),
    kind: (given) => `file(${given})`,
    standard: 'new File(["a,b"], "beds.csv", { type: "text/csv" })',
    other: 'new File(["c"], "trees.csv", { type: "text/csv" })',
    shown: "el.files[0]?.name ?? ''",
    standardShown: "beds.csv",
    otherShown: "trees.csv",
    blankShown: "",
    act: (page) =>
      page.locator(it).setInputFiles({ name: "trees.csv", mimeType: "text/csv", buffer: Buffer.from("c") }),
    keys: async (page) => {
      await page.keyboard.press("Delete");
      await page.locator(it).setInputFiles({ name: "trees.csv", mimeType: "text/csv", buffer: Buffer.from("c") });
    },
    required: "el.required",
    readOnly: "el.getAttribute('aria-disabled') === 'true'",
  },
  {
    ...textual("text", "oak", "elm"),
    control: "custom element",
    markup: label('<plain-field name="it"></plain-field>'),
    act: (page) => page.locator("plain-field input").fill("elm"),
    keys: typeOver("elm"),
  },
];

/** Defines, in a page, a form-associated custom element with a field inside, as component libraries make them. */
export function definePlainField(): void {
  class PlainField extends HTMLElement {
    static formAssociated = true;
    readonly #input = document.createElement("input");
    required = false;
    constructor() {
      super();
      this.attachInternals();
      this.attachShadow({ mode: "open", delegatesFocus: true }).append(this.#input);
      this.#input.addEventListener("change", () => this.dispatchEvent(new Event("change", { bubbles: true })));
    }
    get value(): string {
      return this.#input.value;
    }
    set value(value: string) {
      this.#input.value = value;
    }
    get readOnly(): boolean {
      return this.#input.readOnly;
    }
    set readOnly(readOnly: boolean) {
      this.#input.readOnly = readOnly;
    }
    get disabled(): boolean {
      return this.#input.disabled;
    }
    set disabled(disabled: boolean) {
      this.#input.disabled = disabled;
    }
  }
  customElements.define("plain-field", PlainField);
}
