export { fillEntry } from "./fillEntry.ts";
export { type Terminal, TerminalControl } from "./TerminalControl.ts";
