export type { Database, DatabaseNews, DatabasePart, StoreOptions } from "./Database.ts";
export { keep } from "./keep.ts";
export type { KeepOptions } from "./KeepOptions.ts";
export { keepTogether } from "./keepTogether.ts";
export type { KeptOf, KeptTogether, TablesByName, TogetherOptions } from "./KeptTogether.ts";
export type { Kept, KeptConflict, KeptResult, KeptState, LeftOutRow, UnsavedRow } from "./Kept.ts";
export type { Draft, NotTaken, OfferedDraft } from "./drafts/Draft.ts";
export { type DraftOptions, keepDraft } from "./drafts/keepDraft.ts";
export type { Drafts, StoredDraft } from "./drafts/Drafts.ts";
export { type MemoryDrafts, memoryDrafts } from "./drafts/memoryDrafts.ts";
export { writeCommand } from "./writeCommand.ts";
export { type Loaded, type LoadOptions, loadRows } from "./loadRows.ts";
export { type Fault, type MemoryStore, memoryStore } from "./memoryStore.ts";
export {
  type ChangeableStore,
  type Receipt,
  type Store,
  type StoreChange,
  type StoredRow,
  StoreError,
  type StoreErrorKind,
  type StoreNews,
  type VersionedRow,
  type WriteResult,
} from "./Store.ts";
export {
  type ColumnNames,
  fromJson,
  type LineProblem,
  type RowReading,
  toJson,
  type TextSource,
} from "./text/index.ts";
