import { ownProblems } from "../check/index.ts";
import { type AnyKind, type Finding, type Problem, problemAt, say } from "../model/index.ts";
import type { Entered } from "./Entered.ts";
import type { FieldOwner } from "./FieldOwner.ts";
import type { FieldConflict } from "./Reports.ts";

/** A field whose problems are looked for. */
export interface CheckedField {
  readonly owner: FieldOwner;
  readonly name: string;
  readonly pointer: string;
  readonly kind: AnyKind;
  readonly relevant: boolean;
  readonly locale: string;
  readonly timeZone: string;
  /** A value as it is told apart from another. */
  wholeOf(value: unknown): string;
}

const noProblems: readonly Problem[] = [];

/**
 * Everything that is wrong with a field: what happened elsewhere, then its text, the kind's constraints, and rules.
 *
 * @param content - what it holds; where it follows others, the value that they propose
 * @param entered - the same as it is kept
 */
export function fieldProblems(field: CheckedField, content: Entered, entered: Entered): readonly Problem[] {
  if (!field.relevant) return noProblems;
  const { owner, name } = field;
  const own =
    content.unreadable === undefined
      ? ownProblems(owner.conditions, name, field.kind, content.value, field)
      : [inWords(content.unreadable, field)];
  // Of most fields there is no more to say, and this is asked at each key.
  if (owner.reports.isEmpty && !owner.rules.has(name)) return own;
  const conflict = owner.reports.conflictAt(name);
  const before = conflict === undefined ? own : [inWords(inConflict(field, content, conflict), field), ...own];
  // What is missing or can't be read has that problem only.
  if (own.length > 0 && (content.unreadable !== undefined || field.kind.isBlank(content.value))) return before;
  const after = [...owner.rules.at(name), ...owner.reports.refusedAt(name, entered)];
  return after.length === 0 ? before : [...before, ...after];
}

function inConflict(field: CheckedField, content: Entered, { theirs, mine = content }: FieldConflict): Finding {
  const shown = (value: unknown): string =>
    field.kind.isBlank(value) ? say(field.locale, "nothingEntered") : field.wholeOf(value);
  // A message must not contain a secret value.
  const secret = field.kind.options.writeOnly === true;
  const facts = secret
    ? {}
    : { value: shown(theirs), mine: mine.unreadable === undefined ? shown(mine.value) : mine.text! };
  return { code: "changedElsewhere", message: "changedElsewhere", facts };
}

const inWords = (finding: Finding, { kind, pointer, locale }: CheckedField): Problem =>
  problemAt(finding, kind, pointer, locale);
