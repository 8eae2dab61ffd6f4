import type { AreaWords, CheckingMessage, MessageFacts, MessageName } from "../../model/index.ts";
import type { Listening } from "../listening.ts";

/** What a control is given by what binds it. */
export interface ControlContext {
  readonly listening: Listening;
  /** Words of the library in the entry's language. */
  say(name: CheckingMessage, facts?: MessageFacts): string;
  /** Words of an area that is loaded apart; it is handed its English, so that what is loaded imports nothing of the page. */
  sayOf<Name extends MessageName>(inEnglish: AreaWords<Name>, name: Name, facts?: MessageFacts): string;
  /** The prefix of the ids of elements that are made here. */
  readonly prefix: string;
  /** The prefix of names that must differ from those of other rows. */
  readonly scope?: string | undefined;
  /** Whether it is a cell of a grid, where there is no room for more than the control. */
  readonly inCell?: boolean | undefined;
}
