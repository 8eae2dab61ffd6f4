import type { MessageName } from "./messageNames.ts";

/** The parts that a message is made of: limits and examples already written in the reader's notation. */
export interface MessageFacts {
  /** What people call the field, the row or the column. */
  readonly title?: string;
  /** The limit that is passed, as people read it. */
  readonly limit?: string;
  /** How many there are, or may be. */
  readonly count?: number;
  /** How a right value may look. */
  readonly example?: string;
  /** What was entered, or is shown. */
  readonly value?: string;
  /** Where: the name of a file, a folder or a service. */
  readonly place?: string;
  /** Why, in words. */
  readonly reason?: string;
  /** What was entered here, beside what it is elsewhere. */
  readonly mine?: string;
}

/** The words of one area in one language. */
export type AreaWords<Name extends MessageName> = { readonly [N in Name]: (facts: MessageFacts) => string };

/** A language that messages are said in; `ironwood/messages/…` has one for each folder. */
export interface Language {
  /** A BCP 47 tag: used for every locale that begins with it. */
  readonly tag: string;
  /** The words, by the names of the messages. */
  readonly messages: AreaWords<MessageName>;
}
