import { type Problem, say, sayOfSteps } from "../model/index.ts";
import { type Command, command, notices } from "../command/index.ts";
import type { Steps } from "../entry/index.ts";
import { newsIn } from "./decisions.ts";
import { isError } from "./saving.ts";

/** The commands that lead through the steps of a form. */
export interface StepCommands {
  readonly next: Command;
  readonly back: Command;
  readonly finish: Command;
}

/** Says which step it is now. */
export function sayStep({ entry, position }: Steps): string {
  const { number, of, title } = position;
  const limit = new Intl.NumberFormat(entry.locale).format(of);
  return sayOfSteps(entry.locale, "stepOf", { count: number, limit, title });
}

/**
 * What presses on next, back and finish do.
 *
 * @param refused - told what is wrong when a press leads nowhere, so that the focus can be put there
 */
export function stepCommands(of: Steps, refused: (problems: readonly Problem[]) => void): StepCommands {
  const { entry } = of;
  const stop = (problems: readonly Problem[]): never => {
    refused(problems);
    throw new Error(sayOfSteps(entry.locale, "problemsHere", { count: problems.filter(isError).length }));
  };
  /** A press that first reveals a warning stops once. */
  const revealed = (problems: readonly Problem[], known: readonly Problem[]): boolean => {
    if (problems.some(isError) || newsIn(problems, known).length === 0) return false;
    notices.say(sayOfSteps(entry.locale, "warnedHere", { count: problems.length }), "warning");
    refused(problems);
    return true;
  };
  const isLast = (): boolean => of.position.number === of.position.of;
  const next = command({
    relevant: () => !isLast(),
    allowed: () => !isLast() || sayOfSteps(entry.locale, "lastStep"),
    async run() {
      const known = entry.visibleProblems;
      if (revealed(await of.check(), known)) return;
      const result = await of.next();
      return result.ok ? sayStep(of) : stop(result.problems);
    },
  });
  const back = command({
    allowed: () => of.position.number > 1 || sayOfSteps(entry.locale, "firstStep"),
    run: () => (of.back() ? sayStep(of) : undefined),
  });
  const finish = command({
    relevant: isLast,
    allowed: () => !entry.readOnly || (entry.reason ?? say(entry.locale, "readOnly")),
    async run() {
      const known = entry.visibleProblems;
      if (entry.valid && revealed(await entry.check(), known)) return;
      const result = await of.finish();
      if (result.ok) return result.said;
      const failed = result.problems.find(({ code }) => code === "notSaved");
      if (failed !== undefined) throw new Error(failed.message);
      return stop(result.problems);
    },
  });
  return { next, back, finish };
}

/** Goes to a step as a press on its name does. */
export async function pressStep(
  of: Steps,
  name: string,
  refused: (problems: readonly Problem[]) => void,
): Promise<void> {
  notices.clear();
  const result = await of.goTo(name);
  if (result.ok) {
    notices.say(sayStep(of));
    return;
  }
  notices.say(sayOfSteps(of.entry.locale, "stepsLeft", { title: of.position.title }), "error");
  refused(result.problems);
}
