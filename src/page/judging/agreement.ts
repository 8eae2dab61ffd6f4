import { judge, loadJudge } from "#judge";
import type { Verdict } from "../../markup/index.ts";
import { report } from "../binding.ts";
import type { Judge } from "./judge.ts";

/** Whether a page agrees with what it is bound to, found out before it is bound. */
export interface Agreement {
  readonly verdicts: readonly Verdict[];
  /** To be called once it is bound: reports what does not agree, and where the judge comes late, refuses late. */
  report(stop: () => void): void;
}

/**
 * @param look - asks the judge about facts that were taken before anything was bound; `undefined` where there is nothing to ask
 * @throws `page` with `strict`, where something does not agree and the judge is there
 */
export function agreement(look: ((judge: Judge) => Verdict[]) | undefined, strict: boolean): Agreement {
  if (look === undefined) return { verdicts: [], report: () => undefined };
  if (judge !== undefined) {
    const verdicts = look(judge);
    if (strict) report(verdicts, true);
    return { verdicts, report: () => report(verdicts, false) };
  }
  const verdicts: Verdict[] = [];
  return {
    verdicts,
    report(stop) {
      void loadJudge().then((loaded) => {
        verdicts.push(...look(loaded));
        if (strict && verdicts.length > 0) stop();
        report(verdicts, false);
      });
    },
  };
}
