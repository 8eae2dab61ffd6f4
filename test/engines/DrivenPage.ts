import type { Page } from "playwright-core";
import type { Transport } from "./Transport.ts";

/** The keys that have no character of their own, by the code points of WebDriver (W3C, table of normalised keys). */
const codes: Readonly<Record<string, string>> = {
  Backspace: "\uE003",
  Tab: "\uE004",
  Enter: "\uE007",
  Shift: "\uE008",
  Control: "\uE009",
  Alt: "\uE00A",
  Escape: "\uE00C",
  Space: " ",
  End: "\uE010",
  Home: "\uE011",
  ArrowLeft: "\uE012",
  ArrowUp: "\uE013",
  ArrowRight: "\uE014",
  ArrowDown: "\uE015",
  Delete: "\uE017",
  F2: "\uE032",
};

const keysOf = (values: readonly { type: "keyDown" | "keyUp"; value: string }[]): unknown[] => [
  { type: "key", id: "keyboard", actions: values },
];

class Keyboard {
  readonly #transport: Transport;

  constructor(transport: Transport) {
    this.#transport = transport;
  }

  async press(written: string): Promise<void> {
    const keys = written.split("+").map((key) => codes[key] ?? (written.includes("+") ? key.toLowerCase() : key));
    await this.#transport.perform(
      keysOf([
        ...keys.map((value) => ({ type: "keyDown" as const, value })),
        ...keys.toReversed().map((value) => ({ type: "keyUp" as const, value })),
      ]),
    );
  }

  async type(text: string): Promise<void> {
    await this.#transport.perform(
      keysOf([...text].flatMap((value) => (["keyDown", "keyUp"] as const).map((type) => ({ type, value })))),
    );
  }
}

interface FilePayload {
  readonly name: string;
  readonly mimeType: string;
  readonly buffer: Buffer;
}

class Locator {
  readonly #transport: Transport;
  readonly #all: string;
  readonly #place: number;

  /** @param all - an expression: the elements */
  constructor(transport: Transport, all: string, place = 0) {
    this.#transport = transport;
    this.#all = all;
    this.#place = place;
  }

  first(): Locator {
    return this.nth(0);
  }

  nth(place: number): Locator {
    return new Locator(this.#transport, this.#all, place);
  }

  /** Does something with the element as soon as it is there. */
  async #with(work: string): Promise<unknown> {
    const end = Date.now() + 10_000;
    for (;;) {
      const found = await this.#transport.evaluate(
        `(() => { const el = (${this.#all})[${this.#place}]; return el === undefined ? { missing: true } : { value: (${work})(el) }; })()`,
      );
      if (!(found as { missing?: boolean }).missing) return (found as { value?: unknown }).value;
      if (Date.now() > end) throw new Error(`There is no element ${this.#place} of ${this.#all}`);
      await new Promise((go) => setTimeout(go, 30));
    }
  }

  async focus(): Promise<void> {
    await this.#with("(el) => el.focus()");
  }

  async click(): Promise<void> {
    const at = (await this.#with(
      `(el) => { el.scrollIntoView({ block: "nearest" }); const box = el.getBoundingClientRect(); return { x: Math.round(box.x + box.width / 2), y: Math.round(box.y + box.height / 2) }; }`,
    )) as { x: number; y: number };
    await this.#transport.perform([
      {
        type: "pointer",
        id: "mouse",
        parameters: { pointerType: "mouse" },
        actions: [
          { type: "pointerMove", ...at, duration: 0 },
          { type: "pointerDown", button: 0 },
          { type: "pause", duration: 60 },
          { type: "pointerUp", button: 0 },
        ],
      },
    ]);
  }

  /** Text is typed over what is there, key by key; what is no text is put in as the platform's own pickers do it. */
  async fill(text: string): Promise<void> {
    const isTyped = await this.#with(
      `(el) => { el.focus(); if (/^(?:color|range|date|time|datetime-local|month|week)$/.test(el.type)) { el.value = ${JSON.stringify(text)}; for (const type of ["input", "change"]) el.dispatchEvent(new Event(type, { bubbles: true })); return false; } el.select(); return true; }`,
    );
    const keyboard = new Keyboard(this.#transport);
    if (isTyped !== true) return;
    if (text === "") await keyboard.press("Delete");
    else await keyboard.type(text);
  }

  async selectOption(chosen: string | readonly string[]): Promise<void> {
    await this.#with(
      `(el) => { el.focus(); const chosen = ${JSON.stringify([chosen].flat())}; for (const option of el.options) option.selected = chosen.includes(option.value); for (const type of ["input", "change"]) el.dispatchEvent(new Event(type, { bubbles: true })); }`,
    );
  }

  async setInputFiles({ name, mimeType, buffer }: FilePayload): Promise<void> {
    await this.#with(
      `(el) => { const list = new DataTransfer(); list.items.add(new File([${JSON.stringify(buffer.toString())}], ${JSON.stringify(name)}, { type: ${JSON.stringify(mimeType)} })); el.files = list.files; for (const type of ["input", "change"]) el.dispatchEvent(new Event(type, { bubbles: true })); }`,
    );
  }
}

/** A page in any engine, with the part of what the tests of controls ask of one. */
class DrivenPage {
  readonly keyboard: Keyboard;
  readonly #transport: Transport;

  constructor(transport: Transport) {
    this.#transport = transport;
    this.keyboard = new Keyboard(transport);
  }

  evaluate(work: string | (() => unknown)): Promise<unknown> {
    return this.#transport.evaluate(typeof work === "string" ? work : `(${String(work)})()`);
  }

  locator(selector: string, { hasText }: { hasText?: string } = {}): Locator {
    // What is inside a custom element is found by the element's own name before it.
    const [host = "", ...inside] = selector.split(" ");
    const all =
      host.includes("-") && /^[a-z-]+$/.test(host)
        ? `[...document.querySelector(${JSON.stringify(host)}).shadowRoot.querySelectorAll(${JSON.stringify(inside.join(" "))})]`
        : `[...document.querySelectorAll(${JSON.stringify(selector)})]`;
    return new Locator(
      this.#transport,
      hasText === undefined ? all : `${all}.filter((el) => el.textContent.includes(${JSON.stringify(hasText)}))`,
    );
  }

  getByRole(role: "button", { name }: { name: string }): Locator {
    return this.locator(role, { hasText: name });
  }
}

/** As the page that the tests know: what it does not have, no test of controls asks for. */
export const drivenPage = (transport: Transport): Page => new DrivenPage(transport) as never;
