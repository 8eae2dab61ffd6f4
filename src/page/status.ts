import { notices } from "../command/index.ts";
import { mirror, platform, type Stoppable } from "../engine/index.ts";

/** How long a text can be read before it goes: ten seconds, and longer for a long one. */
const readingTime = (text: string): number => Math.max(10_000, text.length * 150);

/** Shows what was said last in the page's `role="status"`; the same text twice is announced twice; old text goes. */
export function bindStatus(element: HTMLElement): Stoppable {
  let timer: unknown;
  const showing = mirror(() => {
    const { latest } = notices;
    platform.cancel(timer);
    element.dataset["severity"] = latest?.severity ?? "";
    if (latest === undefined) return element.replaceChildren();
    // A new text node is announced even when its text is the same.
    element.replaceChildren(element.ownerDocument.createTextNode(latest.text));
    element.ariaLive = latest.severity === "error" ? "assertive" : "polite";
    timer = platform.after(readingTime(latest.text), () => notices.clear());
  }, "the status line");
  return {
    stop() {
      showing.stop();
      platform.cancel(timer);
      element.replaceChildren();
    },
    [Symbol.dispose]() {
      this.stop();
    },
  };
}
