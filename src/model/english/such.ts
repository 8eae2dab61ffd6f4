import type { MessageFacts } from "../words.ts";

/** An example behind what is to be entered, where there is one. */
export const such = ({ example }: MessageFacts): string => (example === undefined ? "" : `, such as ${example}`);
