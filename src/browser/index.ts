export { httpStore } from "./httpStore.ts";
export { type PickedFile, pickedFile } from "./pickedFile.ts";
