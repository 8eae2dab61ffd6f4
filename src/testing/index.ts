export { HeadlessControl } from "../control/index.ts";
export { type ConformanceCheck, controlConformance, type ControlUnderTest, type Seen } from "./conformance.ts";
export { storeConformance } from "./storeConformance.ts";
export type { StoreCheck, StoreUnderTest } from "./StoreUnderTest.ts";
