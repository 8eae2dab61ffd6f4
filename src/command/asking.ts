import { IronwoodError, type OptionTypes, requireArgument, requireOptions } from "../errors/index.ts";
import type { AbortSignalLike, Stoppable } from "../engine/index.ts";

/** One answer that can be given. */
export interface Answer {
  /** What the answer stands for. */
  readonly value: string;
  /** The words on its button. */
  readonly title: string;
}

/** What a person is asked. */
export interface Question {
  /** What is asked. */
  readonly text: string;
  /** What can be answered, the one that does what was wanted first; without any, one button that says it was read. */
  readonly answers?: readonly Answer[] | undefined;
  /** The heading above the text. */
  readonly title?: string | undefined;
}

/** Where a question comes from. */
export interface AskContext {
  /** The control that was pressed: the question appears in its window. */
  readonly control?: unknown;
  /** Takes the question away; it is then as good as not answered. */
  readonly signal?: AbortSignalLike | undefined;
}

/** What puts questions before a person: a page does it in a dialog, a terminal in a line. */
export interface Asker {
  /**
   * Shows a question and waits for its answer.
   *
   * @returns the value of the answer; `undefined` when the person went away without one
   */
  ask(question: Question, context: AskContext): Promise<string | undefined>;
  /** The words for an answer that the question does not name. */
  word(name: "yes" | "no" | "ok"): string;
}

const askers: Asker[] = [];

/** Sets who asks a person from now on; stopping it restores the one before. A bound page sets itself. */
export function setAsker(asker: Asker): Stoppable {
  const isAsker = typeof (asker as Partial<Asker> | null)?.ask === "function" && typeof asker.word === "function";
  requireArgument(isAsker, "setAsker", asker, "an object with two functions, ask and word");
  askers.push(asker);
  const stop = (): void => {
    const place = askers.lastIndexOf(asker);
    if (place >= 0) askers.splice(place, 1);
  };
  return { stop, [Symbol.dispose]: stop };
}

function askerNow(question: string): Asker {
  const asker = askers.at(-1);
  if (asker !== undefined) return asker;
  throw new IronwoodError("noAsker", `Nobody is there to ask "${question}"`, {
    expected: "a bound page, setAsker(…), or run({ confirmed: true })",
  });
}

/** What a command's run is given may be handed on as it is. */
export const contextOptions = {
  control: "any",
  signal: "signal",
  progress: "function",
  row: "any",
} satisfies OptionTypes;

function requireQuestion(call: string, text: unknown, options: unknown, more: OptionTypes): void {
  requireArgument(typeof text === "string", call, text, "a text for the person");
  requireOptions(call, options, { ...more, ...contextOptions });
}

/**
 * Asks a person to choose one of several answers.
 *
 * @param answers - the values with what stands on their buttons; the first does what was wanted
 * @returns the answer that was chosen; `undefined` when the person left without one, as by Escape
 * @throws `noAsker` when no page is bound and no {@link setAsker} was called
 * @example
 * const answer = await ask("The card has changes.", { save: "Save", leave: "Leave", stay: "Stay here" });
 */
export async function ask<A extends string>(
  text: string,
  answers: Readonly<Record<A, string>>,
  options: AskContext & { readonly title?: string | undefined } = {},
): Promise<A | undefined> {
  requireQuestion("ask", text, options, { title: "text" });
  const isMap = typeof answers === "object" && (answers as unknown) !== null && Object.keys(answers).length > 0;
  const areTexts = isMap && Object.values(answers).every((caption) => typeof caption === "string");
  requireArgument(areTexts, "ask", answers, 'answers with what stands on their buttons, as { save: "Save" }');
  const { title, ...context } = options;
  const listed = Object.entries<string>(answers).map(([value, caption]) => ({ value, title: caption }));
  return (await askerNow(text).ask({ text, title, answers: listed }, context)) as A | undefined;
}

/** Asks for a yes. @param yes - what stands on its button; default: "Yes" @throws `noAsker` */
export async function confirmed(
  text: string,
  options: AskContext & { readonly yes?: string | undefined } = {},
): Promise<boolean> {
  requireQuestion("confirmed", text, options, { yes: "text" });
  const { yes, ...context } = options;
  const who = askerNow(text);
  const answers = [
    { value: "yes", title: yes ?? who.word("yes") },
    { value: "no", title: who.word("no") },
  ];
  return (await who.ask({ text, answers }, context)) === "yes";
}

/** Shows a message until it was read. @throws `noAsker` */
export async function tell(
  text: string,
  options: AskContext & { readonly title?: string | undefined } = {},
): Promise<void> {
  requireQuestion("tell", text, options, { title: "text" });
  const { title, ...context } = options;
  const who = askerNow(text);
  await who.ask({ text, title, answers: [{ value: "ok", title: who.word("ok") }] }, context);
}
