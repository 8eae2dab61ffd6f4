export { browserDrafts } from "./browserDrafts.ts";
export { browserStore } from "./browserStore.ts";
export { httpStore } from "./httpStore.ts";
export { type PickedFile, pickedFile } from "./pickedFile.ts";
export { type SharedTable, shareTable } from "./shareTable.ts";
