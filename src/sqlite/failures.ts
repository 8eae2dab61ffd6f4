import { StoreError, type StoreErrorKind } from "../store/index.ts";

const reasons: readonly (readonly [code: RegExp, kind: StoreErrorKind, reason: string])[] = [
  [/^SQLITE_(BUSY|LOCKED)/, "unreachable", "another program is writing in it"],
  [/^SQLITE_FULL/, "full", "the disk is full"],
  [/^SQLITE_READONLY/, "refused", "it can only be read"],
  [/^SQLITE_CANTOPEN/, "refused", "it can't be opened: its folder is not there, or you have no permission for it"],
  [/^SQLITE_(PERM|AUTH)/, "refused", "you have no permission for it"],
  [/^SQLITE_NOTADB/, "refused", "it is a file of another kind. It was left as it is"],
  [/^SQLITE_CORRUPT/, "refused", "it is damaged. Put back a copy of it that is whole"],
  [
    /^SQLITE_IOERR_(WRITE|SHMSIZE)/,
    "full",
    "the disk takes no more: it may be full, or the file may not grow any larger",
  ],
  [/^SQLITE_IOERR/, "unreachable", "the disk does not answer"],
];

/** What the driver said, in words for the person at the window. */
export function storeError(error: unknown, place: string): StoreError {
  if (error instanceof StoreError) return error;
  const { code = "", message = String(error) } = error as { readonly code?: string; readonly message?: string };
  const [, kind, reason] = reasons.find(([each]) => each.test(code)) ?? [undefined, "refused" as const, message];
  return new StoreError(kind, `The database ${place} can't be used: ${reason}.`, { cause: error });
}

/** Whether it is another program that writes at the moment. */
export const isBusy = (error: unknown): boolean =>
  /^SQLITE_(BUSY|LOCKED)/.test(String((error as { readonly code?: unknown } | null)?.code));
