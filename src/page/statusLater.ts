import { notices } from "../command/index.ts";
import { follow, platform, type Stoppable } from "../engine/index.ts";
import { IronwoodError } from "../errors/index.ts";
import { Undoing } from "./binding.ts";
import { bindStatus } from "./status.ts";
import { stoppable } from "./stoppable.ts";

/** Where a page has no status line, one is made for the first thing that is said, and the builder is told: what is said is never lost. */
export function makeStatusLater(page: Document): Stoppable {
  const undoing = new Undoing();
  let made = false;
  undoing.keep(
    follow(
      () => notices.latest,
      (notice) => {
        if (made || notice === undefined || page.querySelector("[role=status]") !== null) return;
        made = true;
        const element = page.createElement("p");
        element.role = "status";
        page.body.append(element);
        undoing.add(() => element.remove());
        undoing.keep(bindStatus(element));
        platform.report(
          new IronwoodError(
            "noStatus",
            `The page has no place for what is said, so one was made for "${notice.text}"`,
            {
              expected: 'an element with role="status"',
            },
          ),
        );
      },
    ),
  );
  return stoppable(() => undoing.stop());
}
