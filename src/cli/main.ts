#!/usr/bin/env node
/** Begins the command line. Its packages are installed by who uses it, so that an application of pages only stays small. */
const packages = ["commander", "jiti", "parse5", "picocolors"];

try {
  await import("./program.ts");
} catch (error) {
  const { code, message } = error as { readonly code?: unknown; readonly message: string };
  const missing = packages.find((name) => code === "ERR_MODULE_NOT_FOUND" && message.includes(`'${name}'`));
  if (missing === undefined) throw error;
  console.error(
    `The command line has no ${missing} here. Install its packages once: npm install --save-dev ${packages.join(" ")}`,
  );
  process.exitCode = 2;
}

export {};
