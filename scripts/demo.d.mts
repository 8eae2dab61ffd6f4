export function buildExamples(): Promise<void>;
export function startDemo(options: {
  folder: string;
  port?: number;
}): Promise<{ address: string; file: string; stop(): Promise<void> }>;
