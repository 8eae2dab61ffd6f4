import { spawn } from "node:child_process";
import { createServer } from "node:net";
import { asJson, fromJson, type Transport } from "./Transport.ts";

async function freePort(): Promise<number> {
  const server = createServer();
  await new Promise<void>((listening) => server.listen(0, "127.0.0.1", listening));
  const { port } = server.address() as { port: number };
  await new Promise((closed) => server.close(closed));
  return port;
}

/** WebKit, as the web view of GTK has it, driven by its own program for WebDriver (W3C). */
export async function openWebKit(program: string, browser: string): Promise<Transport> {
  const port = await freePort();
  const child = spawn(program, [`--port=${port}`], { stdio: "ignore" });
  const ask = async (method: string, path: string, body?: object): Promise<unknown> => {
    const answer = await fetch(`http://127.0.0.1:${port}${path}`, {
      method,
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    const { value } = (await answer.json()) as { value: { error?: string; message?: string } | null };
    if (!answer.ok) throw new Error(`${path}: ${value?.error}: ${value?.message}`);
    return value;
  };
  const begun = async (): Promise<unknown> => {
    const options = { binary: browser, args: ["--automation"] };
    const capabilities = { alwaysMatch: { "webkitgtk:browserOptions": options } };
    for (let tries = 0; ; tries++)
      try {
        return await ask("POST", "/session", { capabilities });
      } catch (error) {
        // It takes a moment to listen.
        if (tries === 50 || !(error instanceof TypeError)) throw error;
        await new Promise((go) => setTimeout(go, 100));
      }
  };
  const { sessionId, capabilities } = (await begun()) as {
    sessionId: string;
    capabilities: { browserName: string; browserVersion: string };
  };
  const session = `/session/${sessionId}`;
  await ask("POST", `${session}/window/rect`, { width: 1280, height: 900 }).catch(() => undefined);
  return {
    browser: `WebKit (${capabilities.browserName} ${capabilities.browserVersion})`,
    async navigate(url) {
      await ask("POST", `${session}/url`, { url });
    },
    async evaluate(expression) {
      const script = `const done = arguments[0]; ${asJson(expression)}.then((json) => done({ json }), (error) => done({ error: String(error) }));`;
      const { json, error } = (await ask("POST", `${session}/execute/async`, { script, args: [] })) as {
        json?: string;
        error?: string;
      };
      if (error !== undefined) throw new Error(error);
      return fromJson(json);
    },
    async perform(actions) {
      await ask("POST", `${session}/actions`, { actions });
    },
    async close() {
      await ask("DELETE", session).catch(() => undefined);
      child.kill();
    },
  };
}
