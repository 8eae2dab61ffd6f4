import { keepingChecks } from "./keepingChecks.ts";
import { sharingChecks } from "./sharingChecks.ts";
import { storeChecker } from "./storeTools.ts";
import type { StoreCheck, StoreUnderTest } from "./StoreUnderTest.ts";

/**
 * Whether a place keeps to the contract of {@link ChangeableStore}.
 *
 * @param place - opens stores at it; called anew for each check, with names that were not used before
 * @returns the checks, for any test runner
 * @example for (const { name, run } of storeConformance({ open: (model, name) => myStore(model, name) })) test(name, run);
 */
export function storeConformance(place: StoreUnderTest): readonly StoreCheck[] {
  const checker = storeChecker(place);
  return [...keepingChecks(checker), ...sharingChecks(checker)];
}
