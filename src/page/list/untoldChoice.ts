import type { Stoppable } from "../../engine/index.ts";
import { stoppable } from "../stoppable.ts";

const chosenIn = ({ selectedOptions }: HTMLSelectElement): string =>
  [...selectedOptions].map(({ index }) => index).join();

/** What a `select` was last known to show. */
export interface KnownChoice extends Stoppable {
  /** To be called after each showing and each choice: what differs from then on was chosen and not told. */
  note(): void;
}

/**
 * Has a choice by a key be taken of which a `select` tells nothing: a list box of Chromium tells none that it has told last, though what it
 * shows was set to something else meanwhile.
 */
export function followUntoldChoices(select: HTMLSelectElement, change: () => void): KnownChoice {
  let known = chosenIn(select);
  const look = (): void => {
    if (chosenIn(select) !== known) change();
  };
  select.addEventListener("keyup", look);
  const note = (): void => {
    known = chosenIn(select);
  };
  return { note, ...stoppable(() => select.removeEventListener("keyup", look)) };
}
