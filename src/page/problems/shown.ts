import { mirror, type Stoppable } from "../../engine/index.ts";
import type { CalculatedFieldState } from "../../entry/index.ts";
import { stoppable } from "../stoppable.ts";
import { ProblemMessage } from "./message.ts";

/** Shows what is wrong with a calculated value behind the element that shows the value. */
export function showProblemsOf(field: CalculatedFieldState, element: HTMLElement, wantedId: string): Stoppable {
  const message = new ProblemMessage([element], wantedId);
  const showing = mirror(() => message.show(field.visibleProblems), `the problems of ${field.name}`);
  return stoppable(() => {
    showing.stop();
    message.stop();
  });
}
