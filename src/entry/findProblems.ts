import { type AnyKind, type Finding, missingAt, type Problem, problemAt, say } from "../model/index.ts";
import type { Disagreement } from "./Conflict.ts";
import type { Content } from "./content.ts";
import type { Field } from "./Field.ts";

const noProblems: readonly Problem[] = [];
const noFindings: readonly Finding[] = [];

/**
 * Everything that is wrong with a field: what happened elsewhere, then its text, the kind's constraints, and rules.
 *
 * @param content - what it holds
 * @param kind - with the choices as of now
 */
export function findProblems(field: Field, content: Content, kind: AnyKind): readonly Problem[] {
  if (!field.relevant) return noProblems;
  // Of most fields there is no more to say, and this is asked at each key.
  if (field.core.saysNothingOf(field.name)) return findOwn(field, content, kind, false);
  const disagreement = field.core.disagreementAt(field.name);
  const own = findOwn(field, content, kind, true);
  return disagreement === undefined ? own : [problem(disagreeing(field, content, disagreement), field), ...own];
}

/** @param judged - whether rules may have something to say */
function findOwn(field: Field, { value, unreadable }: Content, kind: AnyKind, judged: boolean): readonly Problem[] {
  const { core, name } = field;
  if (unreadable !== undefined) return [problem(unreadable, field)];
  const blank = field.kind.isBlank(value);
  if (blank && field.required) return [missing(field)];
  const found = blank ? noFindings : kind.check(value, core.locale, core.timeZone);
  const broken = judged ? core.rulesAt(name) : noProblems;
  if (found.length === 0) return broken;
  return [...found.map((finding) => problem(finding, field)), ...broken];
}

function missing({ core, kind, name, pointer }: Field): Problem {
  const reason = kind.options.required === true || core.isRequired(name);
  return missingAt(kind, pointer, core.locale, reason);
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
