export { explain, type Explainable, type Explanation } from "./explain.ts";
