import { requireArgument } from "../errors/index.ts";
import { harmlessSchemes } from "../model/index.ts";

/** Attributes whose value the platform goes to, loads or sends something to. */
const ofAddresses = new Set(["href", "src", "action", "formaction", "poster", "data", "cite", "ping", "xlink:href"]);

/**
 * Says which texts may stand in an attribute. What a person has typed must not become a program: an address such as `javascript:…` runs
 * when it is pressed.
 *
 * @param schemes - of addresses that may stand there, without the colon
 * @throws `wrongType` for an attribute that is a program itself
 */
export function allowedIn(
  attribute: string,
  element: Element,
  schemes: readonly string[] = harmlessSchemes,
): ((text: string) => boolean) | undefined {
  const name = attribute.toLowerCase();
  requireArgument(
    !name.startsWith("on") && name !== "srcdoc" && name !== "style",
    "bindOutput",
    attribute,
    "an attribute that holds no program and no styles",
  );
  if (!ofAddresses.has(name)) return undefined;
  return (text) => {
    const { baseURI } = element;
    try {
      const { protocol } = new URL(text, baseURI);
      // What is relative is of the page's own scheme.
      return schemes.includes(protocol.slice(0, -1)) || protocol === new URL(baseURI).protocol;
    } catch {
      return false;
    }
  };
}
