import type { Figure } from "./harness.ts";

const ms = (time: number): string => (time < 10 ? time.toFixed(2) : time.toFixed(0));

/** The figures as a table in Markdown, for the terminal and for the README. */
export function table(figures: readonly Figure[]): string {
  const rows = figures.map(
    ({ id, work, byHandMs, ironwoodMs, ratio, budget, within }) =>
      `| ${id} | ${work} | ${ms(byHandMs)} ms | ${ms(ironwoodMs)} ms | **${ratio.toFixed(2)}×** | ${budget === undefined ? "–" : `≤ ${budget}×`} | ${budget === undefined ? "–" : within ? "yes" : "NO"} |`,
  );
  return [
    "| id | work | by hand | Ironwood | ratio | budget | within |",
    "|---|---|---:|---:|---:|---:|---|",
    ...rows,
  ].join("\n");
}
