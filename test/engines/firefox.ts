import { spawn } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { WebSocket } from "ws";
import { asJson, fromJson, type Transport } from "./Transport.ts";

interface Answer {
  readonly id?: number;
  readonly type: "success" | "error" | "event";
  readonly result?: Record<string, unknown>;
  readonly error?: string;
  readonly message?: string;
}

/** Firefox, which speaks WebDriver BiDi (W3C) itself. */
export async function openFirefox(program: string): Promise<Transport> {
  const profile = mkdtempSync(join(tmpdir(), "firefox-"));
  // A page that is left in the middle of a test must not ask whether it may be.
  writeFileSync(join(profile, "user.js"), 'user_pref("dom.disable_beforeunload", true);\n');
  const child = spawn(program, ["--headless", "--no-remote", "--profile", profile, "--remote-debugging-port", "0"]);
  const address = await new Promise<string>((resolve, reject) => {
    let said = "";
    child.stderr.on("data", (data: Buffer) => {
      said += data.toString();
      const found = /WebDriver BiDi listening on (ws:\S+)/.exec(said);
      if (found !== null) resolve(found[1]!);
    });
    child.on("error", reject);
    child.on("exit", () => reject(new Error(`${program} ended: ${said}`)));
  });
  const socket = new WebSocket(`${address}/session`);
  await new Promise<void>((resolve, reject) => {
    socket.on("open", () => resolve());
    socket.on("error", reject);
  });
  let last = 0;
  const waiting = new Map<number, (answer: Answer) => void>();
  socket.on("message", (data: Buffer) => {
    const answer = JSON.parse(data.toString()) as Answer;
    waiting.get(answer.id ?? -1)?.(answer);
  });
  const send = async (method: string, params: object): Promise<Record<string, unknown>> => {
    const id = ++last;
    const answer = await new Promise<Answer>((resolve) => {
      waiting.set(id, resolve);
      socket.send(JSON.stringify({ id, method, params }));
    });
    waiting.delete(id);
    if (answer.type === "error") throw new Error(`${method}: ${answer.error}: ${answer.message}`);
    return answer.result!;
  };
  const { capabilities } = await send("session.new", { capabilities: {} });
  const { browserVersion } = capabilities as { browserVersion: string };
  // The first tab of a window without a screen never has the focus; one that is opened has.
  const { context } = (await send("browsingContext.create", { type: "tab" })) as { context: string };
  await send("browsingContext.setViewport", { context, viewport: { width: 1280, height: 800 } });
  return {
    browser: `Firefox ${browserVersion}`,
    async navigate(url) {
      await send("browsingContext.navigate", { context, url, wait: "complete" });
    },
    async evaluate(expression) {
      const answer = await send("script.evaluate", {
        expression: asJson(expression),
        target: { context },
        awaitPromise: true,
      });
      const { exceptionDetails, result } = answer as {
        exceptionDetails?: { text: string };
        result?: { value: unknown };
      };
      if (exceptionDetails !== undefined) throw new Error(exceptionDetails.text);
      return fromJson(result!.value);
    },
    async perform(actions) {
      await send("input.performActions", { context, actions });
    },
    async close() {
      const ended = new Promise((done) => child.once("exit", done));
      await send("browser.close", {}).catch(() => child.kill());
      socket.close();
      await ended;
      rmSync(profile, { recursive: true, force: true });
    },
  };
}
