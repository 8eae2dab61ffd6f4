/** What judges a page, and what knows that there is nothing to judge: for the test that compares the two. */
import * as core from "../../src/index.ts";
import { judgeForm } from "../../src/markup/index.ts";
import { formFacts } from "../../src/page/facts.ts";
import * as page from "../../src/page/index.ts";
import { isPlainForm } from "../../src/page/judging/plain.ts";
import { surveyed } from "../../src/page/survey.ts";

Object.assign(globalThis, {
  ironwood: { ...core, ...page },
  kept: {},
  judging: { formFacts, isPlainForm, judgeForm, surveyed },
});
