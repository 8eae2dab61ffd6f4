export { follow, type FollowOptions } from "./engine/index.ts";
