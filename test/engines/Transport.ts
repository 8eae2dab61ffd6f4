/** The little that a test asks of a browser, in the terms of WebDriver (W3C): the same over either of its protocols. */
export interface Transport {
  /** What the browser calls itself, with its version. */
  readonly browser: string;
  navigate(address: string): Promise<void>;
  /** What an expression is in the page, promises awaited; what is no JSON is `undefined`. */
  evaluate(expression: string): Promise<unknown>;
  /** Sequences of input, as WebDriver's command "Perform Actions" takes them. */
  perform(actions: readonly unknown[]): Promise<void>;
  close(): Promise<void>;
}

/** An expression whose value is JSON, so that both protocols hand it on alike. */
export const asJson = (expression: string): string =>
  `(async () => JSON.stringify({ value: await (${expression}) }))()`;

export const fromJson = (text: unknown): unknown => (JSON.parse(String(text)) as { value?: unknown }).value;
