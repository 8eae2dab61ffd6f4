import { type AnyKind, type Finding, missingAt, type Problem, problemAt, say } from "../model/index.ts";
import type { Disagreement } from "./Conflict.ts";
import type { Content } from "./content.ts";
import type { Field } from "./Field.ts";

const noProblems: readonly Problem[] = [];

/**
 * Everything that is wrong with a field: what happened elsewhere, then its text, the kind's constraints, and rules.
 *
 * @param content - what it holds
 * @param kind - with the choices as of now
 */
export function findProblems(field: Field, content: Content, kind: AnyKind): readonly Problem[] {
  if (!field.relevant) return noProblems;
  const disagreement = field.core.disagreementAt(field.name);
  const own = findOwn(field, content, kind);
  return disagreement === undefined ? own : [problem(disagreeing(field, content, disagreement), field), ...own];
}

function findOwn(field: Field, { value, unreadable }: Content, kind: AnyKind): readonly Problem[] {
  const { core } = field;
  if (unreadable !== undefined) return [problem(unreadable, field)];
  if (field.kind.isBlank(value)) return whenBlank(field);
  const found = kind.check(value, core.locale, core.timeZone);
  const broken = core.rulesAt(field.name);
  if (found.length === 0) return broken.length === 0 ? noProblems : broken;
  return [...found.map((finding) => problem(finding, field)), ...broken];
}

function whenBlank({ core, kind, name, pointer, required }: Field): readonly Problem[] {
  if (!required) return core.rulesAt(name);
  const reason = kind.options.required === true || core.isRequired(name);
  return [missingAt(kind, pointer, core.locale, reason)];
}

function disagreeing(field: Field, content: Content, { theirs, mine = content }: Disagreement): Finding {
  const shown = (value: unknown): string =>
    field.kind.isBlank(value) ? say(field.locale, "nothingEntered") : field.displayOf(value);
  // A secret is told to nobody.
  const secret = field.kind.options.writeOnly === true;
  const facts = secret
    ? {}
    : { value: shown(theirs), mine: mine.unreadable === undefined ? shown(mine.value) : mine.text! };
  return { code: "changedElsewhere", message: "changedElsewhere", facts };
}

const problem = (finding: Finding, { core, kind, pointer }: Field): Problem =>
  problemAt(finding, kind, pointer, core.locale);
