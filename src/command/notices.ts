import { platform, Value } from "../engine/index.ts";
import { requireArgument } from "../errors/index.ts";

/** A text for the status line. The same text twice is two notices. */
export interface Notice {
  /** What is said, in the reader's language. */
  readonly text: string;
  /** An `error` interrupts a screen reader; the others wait until it has finished. */
  readonly severity: "information" | "warning" | "error";
  /** Whether it takes the place of what is shown at once, and does not wait for its turn. */
  readonly atOnce: boolean;
  /** Whether it is announced; what the page announces elsewhere, as a summary of problems, is only shown. */
  readonly announced: boolean;
  /** When it was said, in milliseconds since 1970. */
  readonly at: number;
}

const severities: readonly Notice["severity"][] = ["information", "warning", "error"];

/** So many notices are kept to be read again. */
const KEPT = 100;

/** The status line: what was said last, and before. */
export class Notices {
  readonly #all = new Value<readonly Notice[]>([]);
  readonly #latest = new Value<Notice | undefined>(undefined);

  /** What is to be read now; `undefined` when there is nothing, or it has been there long enough. */
  get latest(): Notice | undefined {
    return this.#latest.read();
  }

  /** What was said, oldest first; the last 100. */
  get history(): readonly Notice[] {
    return this.#all.read();
  }

  /** Says something. A blank text says nothing. @param announced - false for what is announced elsewhere */
  say(text: string, severity: Notice["severity"] = "information", announced = true): void {
    this.#put(text, severity, severity === "error", announced);
  }

  /** Says something in the place of what is said now: what a person does next is answered at once. */
  sayNow(text: string, severity: Notice["severity"] = "information"): void {
    this.#put(text, severity, true, true);
  }

  #put(text: string, severity: Notice["severity"], atOnce: boolean, announced: boolean): void {
    requireArgument(typeof text === "string", "notices.say", text, "a text for the person");
    requireArgument(severities.includes(severity), "notices.say", severity, severities.join(", "));
    if (text === "") return;
    const notice: Notice = { text, severity, atOnce, announced, at: platform.now() };
    this.#all.write([...this.#all.peek(), notice].slice(-KEPT));
    this.#latest.write(notice);
  }

  /** Takes the latest away, so that old text does not linger; it stays in the history. */
  clear(): void {
    this.#latest.write(undefined);
  }
}

/** The status line of this application. */
export const notices = new Notices();
