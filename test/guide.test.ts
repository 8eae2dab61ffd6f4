/** The guide's own code, run as it stands. */
import { execFile } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync, symlinkSync, mkdirSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { expect, test } from "@jest/globals";

const top = fileURLToPath(new URL("..", import.meta.url));

test("what the guide shows of keeping rows says what it is there for", async () => {
  const guide = readFileSync(join(top, "docs/guide.md"), "utf8");
  const section = /\n### Keep it\n([\s\S]*?)\n#{2,3} /.exec(guide)![1]!;
  const code = [...section.matchAll(/```js\n([\s\S]*?)```/g)].map(([, block]) => block).join("\n");
  const folder = mkdtempSync(join(tmpdir(), "ironwood-guide-"));
  mkdirSync(join(folder, "node_modules"));
  for (const name of ["ironwood", "libsql"])
    symlinkSync(name === "ironwood" ? top : join(top, "node_modules", name), join(folder, "node_modules", name));
  writeFileSync(join(folder, "guide.mjs"), `${code}\nprocess.exit();`);
  const said = await new Promise<string>((done, fail) => {
    const options = { cwd: folder, env: { ...process.env, NODE_OPTIONS: "" } };
    execFile(process.execPath, ["guide.mjs"], options, (error, out, err) =>
      error === null ? done(out) : fail(new Error(err)),
    );
  });
  rmSync(folder, { recursive: true });
  expect(said.trim().split("\n")).toEqual([
    "Saved AB-0042 to plants.ndjson.",
    "unsaved 1 row not saved yet.",
    "1 row saved in nursery.db.",
    "changed bed",
    "Everything is saved in nursery.db.",
    "1 row saved in plants.ndjson.",
  ]);
});
