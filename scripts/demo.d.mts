export function buildExamples(): Promise<void>;
export function startDemo(options: { folder: string; port?: number }): Promise<{
  address: string;
  /** The cards that are kept. */
  cards(): Promise<readonly Readonly<Record<string, unknown>>[]>;
  /** The stand-in for the registry of plots: what it was asked. */
  registry: { readonly asked: readonly { readonly plot: string; readonly aborted: boolean }[] };
  stop(): Promise<void>;
}>;
