import { allSoon, isPromise, type Soon, type Stoppable, Value } from "../engine/index.ts";
import type { Problem } from "../model/index.ts";

/** What can be open inside an entry and is saved and left together with it, as rows in its row that are being edited. */
export interface OpenPart {
  /** Whether something in it is not in the entry yet; followed. */
  readonly changed: boolean;
  /** Puts what was entered into the entry, at once where no rule has to ask elsewhere. @returns what can't be */
  commit(): Soon<readonly Problem[]>;
  revert(): void;
}

/** Everything that is open inside an entry. */
export class OpenParts {
  readonly #parts = new Value<ReadonlySet<OpenPart>>(new Set());

  add(part: OpenPart): Stoppable {
    this.#parts.write(new Set([...this.#parts.peek(), part]));
    const stop = (): void => this.#parts.write(new Set([...this.#parts.peek()].filter((each) => each !== part)));
    return { stop, [Symbol.dispose]: stop };
  }

  /** Has what runs depend on which there are. */
  track(): void {
    this.#parts.read();
  }

  /** Whether something in one of them is not in the entry yet; followed. */
  get changed(): boolean {
    for (const part of this.#parts.read()) if (part.changed) return true;
    return false;
  }

  /** Puts into the entry what was entered in them. @returns what can't be; a promise only where a rule has to ask first */
  commit(): Soon<readonly Problem[]> {
    const found = allSoon([...this.#parts.peek()].map((part) => part.commit()));
    return isPromise(found) ? found.then((all) => all.flat()) : found.flat();
  }

  revert(): void {
    for (const part of this.#parts.peek()) part.revert();
  }
}
