/** The whole library as one global, for tests that write their page themselves. */
import * as core from "../../src/index.ts";
import * as page from "../../src/page/index.ts";
import * as testing from "../../src/testing/index.ts";
import { seeded } from "../seeded.ts";

Object.assign(globalThis, { ironwood: { ...core, ...page, ...testing }, kept: {}, seeded });
