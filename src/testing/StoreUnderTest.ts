import type { AnyModel, KeyOf, RowOf } from "../model/index.ts";
import type { ChangeableStore } from "../store/index.ts";

/** A kind of place under test, and what its stores are opened by. */
export interface StoreUnderTest {
  /** With how many rows it is tried at once; default: 100,000. */
  readonly rows?: number | undefined;
  /** Whether rows without a key of their own can't be kept there; default: `false`. */
  readonly needsKey?: boolean | undefined;
  /** Whether others write there without telling it, so that a store may have all read again besides what it tells; default: `false`. */
  readonly hasOtherWriters?: boolean | undefined;
  /**
   * A store at the place of a name, with nothing in it the first time. Opened again by the same name it is another store at the same place,
   * as another program has it.
   */
  open<M extends AnyModel>(
    model: M,
    name: string,
  ): ChangeableStore<RowOf<M>, KeyOf<M>> | Promise<ChangeableStore<RowOf<M>, KeyOf<M>>>;
  /**
   * Has the next write of a store fail: the place has no room, or it does the work and its answer is lost.
   *
   * @returns `false` where the place can't be made to
   */
  failNext?(store: ChangeableStore<never, never>, fault: "full" | "lostAnswer"): boolean | void;
}

/** One thing that every store has to keep to. */
export interface StoreCheck {
  /** What is checked. */
  readonly name: string;
  /**
   * Opens stores, writes and reads.
   *
   * @returns `false` where the place can't be brought to it
   * @throws with what was found and what would be right
   */
  run(): Promise<boolean>;
}
