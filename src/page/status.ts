import { type Notice, notices } from "../command/index.ts";
import { nextNotice } from "../control/index.ts";
import { getOrMake, mirror, platform, type Stoppable } from "../engine/index.ts";
import { FoundElement } from "./found.ts";
import { stoppable } from "./stoppable.ts";

/** How long a text stays: ten seconds, and longer for a long one. */
const stayingTime = (text: string): number => Math.max(10_000, text.length * 150);

/** Shows what was said in the page's `role="status"`: one text after the other, each long enough to be read; the same text twice is announced twice; old text goes. */
export function bindStatus(element: HTMLElement): Stoppable {
  const shared = getOrMake(statusLines, element, () => ({ users: 0, showing: showNotices(element) }));
  shared.users++;
  return stoppable(() => {
    if (--shared.users > 0) return;
    statusLines.delete(element);
    shared.showing.stop();
  });
}

/** The status lines of all pages: several bindings may find the same. */
const statusLines = new WeakMap<Element, { users: number; readonly showing: Stoppable }>();

/** Of several status lines one is announced, else everything would be heard twice. */
function isFirst(element: Element): boolean {
  const all = (element.getRootNode() as Document | ShadowRoot).querySelectorAll("[role=status]");
  return [...all].find((each) => statusLines.has(each)) === element;
}

function showNotices(element: HTMLElement): Stoppable {
  const found = new FoundElement(element, true);
  let timer: unknown;
  let shown: Notice | undefined;
  let since = 0;
  const put = (notice: Notice | undefined): void => {
    shown = notice;
    since = platform.now();
    element.dataset["severity"] = notice?.severity ?? "";
    if (notice === undefined) return element.replaceChildren();
    const live = notice.severity === "error" ? "assertive" : "polite";
    element.ariaLive = notice.announced && isFirst(element) ? live : "off";
    // A new text node is announced even when its text is the same.
    element.replaceChildren(element.ownerDocument.createTextNode(notice.text));
  };
  const look = (): void => {
    platform.cancel(timer);
    const { latest, history } = notices;
    if (latest === undefined) return put(undefined);
    const { notice, after } = nextNotice(history, latest, shown, platform.now() - since);
    if (notice !== shown) put(notice);
    if (after !== undefined) timer = platform.after(after, look);
    else timer = platform.after(stayingTime(latest.text), () => notices.clear());
  };
  const showing = mirror(look, "the status line");
  return stoppable(() => {
    showing.stop();
    platform.cancel(timer);
    found.restore();
  });
}
