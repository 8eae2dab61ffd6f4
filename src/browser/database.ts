import type { DBSchema, IDBPDatabase, OpenDBCallbacks } from "idb";
import { StoreError } from "../store/index.ts";

/** What a person is told of a failure of the browser's own storage. */
export function storageError(error: unknown, place: string): StoreError {
  if (error instanceof StoreError) return error;
  const { name = "", message = String(error) } = error as { readonly name?: string; readonly message?: string };
  if (name === "QuotaExceededError")
    return new StoreError(
      "full",
      `There is no room left for ${place} in this browser. Free some room on this machine, or delete what other pages keep here.`,
      { cause: error },
    );
  if (
    name === "SecurityError" ||
    name === "InvalidStateError" ||
    name === "UnknownError" ||
    error instanceof ReferenceError
  )
    return new StoreError(
      "refused",
      `This browser lets this page keep nothing, as in a private window or where site data is switched off.`,
      { cause: error },
    );
  if (name === "VersionError")
    return new StoreError("refused", `${place} was made by a newer version of this page. Reload the page.`, {
      cause: error,
    });
  return new StoreError("unreachable", `${place} can't be used in this browser: ${message}`, { cause: error });
}

/** Opens a database of this browser once; again after a failure, and after the browser has closed it. */
export class BrowserDatabase<S extends DBSchema> {
  #opening: Promise<IDBPDatabase<S>> | undefined;
  readonly #name: string;
  readonly #place: string;
  readonly #upgrade: NonNullable<OpenDBCallbacks<S>["upgrade"]>;

  constructor(name: string, place: string, upgrade: NonNullable<OpenDBCallbacks<S>["upgrade"]>) {
    this.#name = name;
    this.#place = place;
    this.#upgrade = upgrade;
  }

  /** Does some work with it. @throws {@link StoreError} for any failure */
  async use<T>(work: (database: IDBPDatabase<S>) => Promise<T>): Promise<T> {
    try {
      return await work(await this.#open());
    } catch (error) {
      throw storageError(error, this.#place);
    }
  }

  #open(): Promise<IDBPDatabase<S>> {
    const forget = (): void => {
      this.#opening = undefined;
    };
    this.#opening ??= import("idb")
      .then(({ openDB }) =>
        openDB<S>(this.#name, 1, {
          upgrade: this.#upgrade,
          // A newer page has to change it: this one lets go of it, and opens it again when it is needed.
          blocking: (_, __, event) => {
            forget();
            (event.target as IDBDatabase).close();
          },
          terminated: forget,
        }),
      )
      .catch((error: unknown) => {
        forget();
        throw error;
      });
    return this.#opening;
  }
}
