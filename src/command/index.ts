export {
  type Answer,
  ask,
  type AskContext,
  type Asker,
  confirmed,
  contextOptions,
  type Question,
  setAsker,
  tell,
} from "./asking.ts";
export {
  Command,
  type CommandOptions,
  type Progress,
  type RunContext,
  type RunOptions,
  type RunResult,
} from "./Command.ts";
export { command } from "./declaring.ts";
export { RowCommand, type RowCommandOptions } from "./RowCommand.ts";
export { type Notice, Notices, notices } from "./notices.ts";
export { keyLetter } from "./keyLetter.ts";
export { isPressed, isTyping, type PressedKey, readShortcuts, type Shortcut } from "./shortcut.ts";
export { pressUndo, redoCommand, undoCommand, type Undoing } from "./undoing.ts";
