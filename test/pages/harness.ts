/** The whole library as one global, for tests that write their page themselves. */
import * as core from "../../src/index.ts";
import * as page from "../../src/page/index.ts";
import * as browser from "../../src/browser/index.ts";
import * as store from "../../src/store/index.ts";
import * as testing from "../../src/testing/index.ts";
import { faultsOf } from "../anythingElse.ts";
import { seeded } from "../seeded.ts";
import { newDifferences } from "./differences.ts";

Object.assign(globalThis, {
  ironwood: { ...core, ...page, ...browser, ...store, ...testing },
  faultsOf,
  kept: {},
  newDifferences,
  seeded,
});
