import { standardJudge } from "#judge";
import { IronwoodError } from "../../errors/index.ts";
import type { Verdict } from "../../markup/index.ts";
import { type BindOptions, report } from "../binding.ts";
import type { Judge } from "./Judge.ts";

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
    throw new IronwoodError("noJudge", "A page is to be bound strictly, and nobody is there to judge it", {
      expected: 'strict: true with judge, from "ironwood/judge", in a bundle for production',
    });
  }
  const verdicts = ask(judge);
  report(verdicts, strict);
  return verdicts;
}
