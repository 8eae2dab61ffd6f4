export { rowsService, type RowsService, type ServiceOptions } from "./rowsService.ts";
