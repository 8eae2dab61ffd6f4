export { fileStore, type FileStoreOptions } from "./fileStore.ts";
export { folderStore, type FolderStoreOptions } from "./folder/folderStore.ts";
export { fileDrafts } from "./fileDrafts.ts";
