export { explain, type Explainable, type PageLike } from "./explain.ts";
export type { Explanation } from "./Explanation.ts";
