import { standardJudge } from "#judge";
import { IronwoodError } from "../../errors/index.ts";
import type { Verdict } from "../../markup/index.ts";
import type { BindOptions } from "../binding.ts";
import type { Judge, LaterJudging } from "./Judge.ts";

/**
 * What of a page does not agree with what it is bound to; to be asked before anything is bound.
 *
 * @throws `page` with `strict: true`, when something does not agree; `noJudge` when nobody is there to find out
 */
export function judged(
  { judge = standardJudge, strict }: Pick<BindOptions, "judge" | "strict">,
  ask: (judge: Judge) => readonly Verdict[],
): readonly Verdict[] {
  if (judge === undefined) {
    if (strict !== true) return [];
    throw new IronwoodError("noJudge", "strict was given, and nobody is there to judge the page", {
      expected: 'judge, from "ironwood/judge"',
    });
  }
  const verdicts = ask(judge);
  judge.report(verdicts, strict);
  return verdicts;
}

/** What of a page does not agree, with what comes into it later. */
export interface Judgement {
  readonly verdicts: readonly Verdict[];
  readonly later: LaterJudging | undefined;
}

/** The same, going on with what comes into the page later. */
export function judgedOnwards(
  options: Pick<BindOptions, "judge" | "strict">,
  ask: (judge: Judge) => readonly Verdict[],
  follow: (judge: Judge, verdicts: Verdict[]) => LaterJudging,
): Judgement {
  const { judge = standardJudge } = options;
  const verdicts = [...judged(options, ask)];
  return { verdicts, later: judge && follow(judge, verdicts) };
}
