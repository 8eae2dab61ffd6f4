import { IronwoodError, shown } from "../errors/index.ts";
import { keyLetter } from "./keyLetter.ts";

/** Keys that run a command, as WAI-ARIA's `aria-keyshortcuts` writes them. */
export interface Shortcut {
  readonly key: string;
  readonly modifiers: readonly Modifier[];
}

const modifiers = ["Alt", "Control", "Meta", "Shift"] as const;
type Modifier = (typeof modifiers)[number];

/** What there is to know of a key that was pressed: of the platform's `KeyboardEvent`, the same names. */
export interface PressedKey {
  readonly key: string;
  /** Where the key is on the keyboard: by it a letter is found on layouts of other scripts. */
  readonly code?: string | undefined;
  readonly altKey: boolean;
  readonly ctrlKey: boolean;
  readonly metaKey: boolean;
  readonly shiftKey: boolean;
}

/**
 * Reads key shortcuts: modifiers and one key, joined by `+`; several apart by blanks.
 *
 * @throws `wrongOption` for what is none
 */
export function readShortcuts(text: string | undefined): readonly Shortcut[] {
  if (text === undefined) return [];
  return text
    .trim()
    .split(/\s+/)
    .map((each) => {
      const parts = each.split("+");
      const key = parts.pop() ?? "";
      const unknown = parts.find((part) => !(modifiers as readonly string[]).includes(part));
      if (key === "" || unknown !== undefined || (modifiers as readonly string[]).includes(key))
        throw new IronwoodError("wrongOption", `The option keyShortcuts was given ${shown(text)}`, {
          expected: `modifiers (${modifiers.join(", ")}) and one key, as "Control+Enter"; a blank between two, and "Space" for the key`,
        });
      return { key: key === "Space" ? " " : key, modifiers: parts as Modifier[] };
    });
}

/** Keys that do something where text is typed. */
const editing = /^(Backspace|Delete|Enter|Home|End|Page(Up|Down)|Arrow(Up|Down|Left|Right))$/;

/** Whether a key with its modifiers types or edits text: in a text control such a key is no shortcut. */
export const isTyping = ({ key, altKey, ctrlKey, metaKey }: PressedKey): boolean =>
  !altKey && !ctrlKey && !metaKey && (key.length === 1 || editing.test(key));

/** Whether a key that was pressed is one of these. A capital letter is the key, whether Shift makes it or not. */
export function isPressed(shortcuts: readonly Shortcut[], pressed: PressedKey): boolean {
  const held: Readonly<Record<Modifier, boolean>> = {
    Alt: pressed.altKey,
    Control: pressed.ctrlKey,
    Meta: pressed.metaKey,
    Shift: pressed.shiftKey,
  };
  return shortcuts.some(
    ({ key, modifiers: wanted }) =>
      [pressed.key.toLowerCase(), keyLetter(pressed)].includes(key.toLowerCase()) &&
      modifiers.every(
        (modifier) => held[modifier] === wanted.includes(modifier) || (modifier === "Shift" && isSign(key)),
      ),
  );
}

/** On many keyboards a sign as `?` needs Shift to be typed. */
const isSign = (key: string): boolean => key.length === 1 && key.toLowerCase() === key.toUpperCase() && key !== " ";
