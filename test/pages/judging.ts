/** The library as a bundle for production has it, and the judge, which such a bundle has only where somebody asks for it. */
import * as core from "../../src/index.ts";
import * as page from "../../src/page/index.ts";
import { judge } from "../../src/page/judging/index.ts";

Object.assign(globalThis, { ironwood: { ...core, ...page }, kept: {}, judge });
