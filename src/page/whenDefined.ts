import { memberOf } from "./memberOf.ts";

/**
 * Waits for custom elements that the page has not defined yet (HTML, "Core concepts" of custom elements). What was written into such an
 * element hides what its class makes of it, so it is taken out again.
 */
export function whenDefined(elements: readonly Element[], then: (element: Element) => void): void {
  for (const element of elements) {
    const name = element.localName;
    const registry = memberOf(element, "ownerDocument").defaultView?.customElements;
    if (!name.includes("-") || registry === undefined || registry.get(name) !== undefined) continue;
    void registry.whenDefined(name).then(() => {
      for (const member of Object.keys(element)) Reflect.deleteProperty(element, member);
      if (element.isConnected) then(element);
    });
  }
}
