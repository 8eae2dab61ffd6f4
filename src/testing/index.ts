export { HeadlessControl } from "../control/index.ts";
export { type ConformanceCheck, controlConformance, type ControlUnderTest, type Seen } from "./conformance.ts";
