/** The call itself is wrong: told in one line, exit code 2. */
export class CallError extends Error {
  override readonly name = "CallError";
}
