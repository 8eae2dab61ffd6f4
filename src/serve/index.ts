export { onlyFromHere } from "./guard.ts";
export { rowsService, type ServiceOptions } from "./rowsService.ts";
