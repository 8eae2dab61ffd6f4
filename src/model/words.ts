import type { MessageName } from "./messageNames.ts";

/** The parts that a message is made of: limits and examples already written in the reader's notation. */
export interface MessageFacts {
  readonly title?: string;
  readonly limit?: string;
  readonly count?: number;
  readonly example?: string;
  readonly value?: string;
  readonly place?: string;
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
  readonly messages: AreaWords<MessageName>;
}
