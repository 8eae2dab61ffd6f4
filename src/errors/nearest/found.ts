export { nearestName as suggestion } from "../nearestName.ts";
