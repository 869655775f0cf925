import type { MediaFacts } from '../media/facts.ts';
import type { LimitFinding } from './finding.ts';
import { SLOT_TARGET, type Limit } from './limit.ts';
import { convertFactsToSubject, type Subject } from './subject.ts';
import { findRow } from './table.ts';

/** Whether a limit speaks about this file at all. */
export function isLimitForSubject(limit: Limit, subject: Subject): boolean {
  const row = findRow(limit);
  return row.scope === 'file' && isTarget(limit.appliesTo, subject) && row.concerns(subject);
}

function isTarget(target: string, subject: Subject): boolean {
  if (target.startsWith(SLOT_TARGET)) return target === `${SLOT_TARGET}${subject.slotId ?? ''}`;
  // What is said of photographs is said of pictures in a document too.
  return (
    target === 'any' ||
    target === subject.mediaKind ||
    (target === 'photo' && subject.mediaKind === 'document')
  );
}

/** Whether a limit speaks about a take with these facts. */
export function isLimitForTake(limit: Limit, facts: MediaFacts, slotId: string | null = null): boolean {
  const context = {
    stage: 'measured',
    fileName: null,
    wantedName: null,
    spanCount: null,
    slotId,
    clippedCount: null,
    continuity: null,
    inView: null,
  } as const;
  return isLimitForSubject(limit, convertFactsToSubject(facts, context));
}

/** Checks every limit that speaks about the subject; one finding each, in the order of the limits. */
export function checkLimits(limits: readonly Limit[], subject: Subject): LimitFinding[] {
  return limits
    .filter((limit) => isLimitForSubject(limit, subject))
    .map((limit) => checkLimit(limit, subject));
}

export function checkLimit(limit: Limit, subject: Subject): LimitFinding {
  const row = findRow(limit);
  const verdict = row.check(limit, subject);
  const wanted = row.wanted(limit);
  const isWanting = verdict.state === 'short' || (verdict.state === 'unknown' && subject.stage === 'proven');
  return {
    of: 'limit',
    limitId: limit.id,
    kind: limit.kind,
    severity: limit.severity,
    stage: subject.stage,
    state: verdict.state,
    label: row.label(limit),
    figure: verdict.figure,
    value: verdict.value ?? null,
    unit: verdict.unit ?? null,
    wanted,
    margin: verdict.margin ?? null,
    method: verdict.method,
    measuredOn: subject.sha256,
    sentence: buildSentence(verdict.state, wanted, verdict.reason),
    fix: isWanting ? row.fix(limit, subject) : null,
    bullet: verdict.bullet ?? null,
  };
}

function buildSentence(state: LimitFinding['state'], wanted: string, reason: string): string {
  const text = state === 'met' ? `${wanted} · ${reason}` : `${reason} · wanted: ${wanted}`;
  return text.charAt(0).toUpperCase() + text.slice(1);
}
