import type { Finding } from './finding.ts';
import type { Limit } from './limit.ts';
import { findRow } from './table.ts';
import type { MediaFacts } from '../media/facts.ts';
import { convertFactsToSubject, type Subject } from './subject.ts';

/** Whether a limit speaks about this file at all. */
export function isLimitForSubject(limit: Limit, subject: Subject): boolean {
  const row = findRow(limit);
  return (
    row.scope === 'file' &&
    (limit.appliesTo === 'any' ||
      limit.appliesTo === subject.mediaKind ||
      (limit.appliesTo === 'document' && subject.container === 'pdf')) &&
    row.concerns(subject)
  );
}

/** Whether a limit speaks about a take with these facts. */
export function isLimitForTake(limit: Limit, facts: MediaFacts): boolean {
  return isLimitForSubject(
    limit,
    convertFactsToSubject(facts, { stage: 'measured', fileName: null, wantedName: null, spanCount: null }),
  );
}

/** Checks every limit that speaks about the subject; one finding each, in the order of the limits. */
export function checkLimits(limits: readonly Limit[], subject: Subject): Finding[] {
  return limits
    .filter((limit) => isLimitForSubject(limit, subject))
    .map((limit) => checkLimit(limit, subject));
}

export function checkLimit(limit: Limit, subject: Subject): Finding {
  const row = findRow(limit);
  const verdict = row.check(limit, subject);
  const label = row.label(limit);
  const wanted = row.wanted(limit);
  const fix =
    verdict.state === 'short' || (verdict.state === 'unknown' && subject.stage === 'proven')
      ? row.fix(limit, subject)
      : null;
  return {
    limitId: limit.id,
    kind: limit.kind,
    severity: limit.severity,
    stage: subject.stage,
    state: verdict.state,
    label,
    figure: verdict.figure,
    value: verdict.value ?? null,
    unit: verdict.unit ?? null,
    wanted,
    margin: verdict.margin ?? null,
    method: verdict.method,
    measuredOn: subject.sha256,
    sentence: buildSentence(verdict.state, wanted, verdict.reason),
    fix,
    bullet: verdict.bullet ?? null,
  };
}

function buildSentence(state: Finding['state'], wanted: string, reason: string): string {
  const text = state === 'met' ? `${wanted} · ${reason}` : `${reason} · wanted: ${wanted}`;
  return text.charAt(0).toUpperCase() + text.slice(1);
}
