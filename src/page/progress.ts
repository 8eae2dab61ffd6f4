import type { Command } from "../command/index.ts";
import { mirror, type Stoppable } from "../engine/index.ts";
import { stoppable } from "./stoppable.ts";

/** Shows how far a command is: in a `progress` or `meter` as its value, elsewhere as its text. While it does not run, it is hidden. */
export function showProgress(element: HTMLElement, command: Command): Stoppable {
  const { hidden } = element;
  const showing = mirror(
    () => {
      const { progress, busy } = command;
      element.hidden = !busy;
      if (element.localName !== "progress" && element.localName !== "meter") {
        element.textContent = progress?.text ?? "";
        return;
      }
      if (progress?.done === undefined) element.removeAttribute("value");
      else (element as HTMLProgressElement).value = progress.done * ((element as HTMLProgressElement).max || 1);
      if (progress?.text !== undefined && progress.text !== "") element.ariaValueText = progress.text;
    },
    `progress of ${command.title ?? "a command"}`,
  );
  return stoppable(() => {
    showing.stop();
    element.hidden = hidden;
  });
}
