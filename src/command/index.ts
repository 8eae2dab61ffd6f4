export { Command, command, type CommandOptions, type RunContext, type RunResult } from "./Command.ts";
export { type Notice, Notices, notices } from "./notices.ts";
