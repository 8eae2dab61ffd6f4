import type { Steps } from "./FormSteps.ts";
import { stepsMark } from "./stepsMark.ts";

/** Whether something is a form in pages. */
export const isSteps = (thing: unknown): thing is Steps =>
  typeof thing === "object" && thing !== null && stepsMark in thing;
