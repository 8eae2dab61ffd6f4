import { getOrMake } from "../engine/index.ts";

/**
 * Styles that parts of a page can't do without, as long as one of these parts is there. They are a sheet that is made, not written into
 * the page: a strict Content-Security-Policy allows it. Their rules have no specificity, so that any rule of the page's own comes
 * before them.
 */
export class StyleSheet {
  /** A sheet belongs to the document that has made it. */
  readonly #sheets = new WeakMap<Document, CSSStyleSheet>();
  readonly #users = new WeakMap<Document | ShadowRoot, number>();
  readonly #rules: string;

  constructor(rules: string) {
    this.#rules = rules;
  }

  /** @returns what takes the styles away again, when nothing else in the document needs them */
  use(element: Element): () => void {
    const root = element.getRootNode() as Document | ShadowRoot;
    // What stands in no document can't have styles.
    if (!("adoptedStyleSheets" in root)) return () => undefined;
    const own = getOrMake(this.#sheets, element.ownerDocument, () => this.#newSheet(element.ownerDocument));
    const before = this.#users.get(root) ?? 0;
    if (before === 0) root.adoptedStyleSheets = [own, ...root.adoptedStyleSheets];
    this.#users.set(root, before + 1);
    return () => {
      const left = this.#users.get(root)! - 1;
      this.#users.set(root, left);
      if (left === 0) root.adoptedStyleSheets = root.adoptedStyleSheets.filter((each) => each !== own);
    };
  }

  #newSheet({ defaultView }: Document): CSSStyleSheet {
    const { CSSStyleSheet: Sheet } = defaultView ?? globalThis;
    const sheet = new Sheet();
    sheet.replaceSync(this.#rules);
    return sheet;
  }
}
