import type { History, Value } from "../engine/index.ts";
import type { AnyKind } from "../model/index.ts";
import type { Baseline } from "./Baseline.ts";
import type { EntryConditions } from "./EntryConditions.ts";
import type { EntryRules } from "./EntryRules.ts";
import type { Proposal, ReadRow } from "./Proposal.ts";
import type { Reports } from "./Reports.ts";

/** What a field asks of the entry that it belongs to. */
export interface FieldOwner extends ReadRow {
  /** Where messages for the builder say that something is wrong. */
  readonly where: string;
  readonly timeZone: string;
  readonly history: History;
  readonly baseline: Baseline;
  readonly conditions: EntryConditions;
  readonly reports: Reports;
  readonly rules: EntryRules;
  readonly asking: { isChecking(name: string): boolean };
  readonly reader: object;
  /** The language as of now; followed. */
  readonly locale: string;
  /** Makes the running calculation depend on the language. */
  trackLocale(): void;
  /** Whether all problems are shown, as after a save was tried; followed. */
  readonly allShown: boolean;
  /** Changes whenever every field has to be shown again. */
  readonly shared: readonly [Value<boolean>, Value<string>];
  /** The row of a table that this is about, where it is about one. */
  readonly rowNow: (() => unknown) | undefined;
  /** The first field that the function which runs now has read. */
  firstRead: { readonly name: string } | undefined;
  /** What others propose for a field; `undefined` where the model has no proposal. */
  newProposal(name: string, kind: AnyKind): Proposal | undefined;
  /** Called when a field got a value: a field that converts from it and into it follows it from now on. */
  letOthersFollow(name: string): void;
}
