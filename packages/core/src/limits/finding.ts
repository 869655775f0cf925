import { z } from 'zod';
import { Severity } from './limit.ts';

export const FindingState = z.enum(['met', 'short', 'unknown']);
export type FindingState = z.infer<typeof FindingState>;

export const Fix = z.object({ by: z.enum(['machine', 'person']), text: z.string() });
export type Fix = z.infer<typeof Fix>;

/** Where the figure lies against the allowed zone, for drawing; all in the limit's own unit. */
export const BulletScale = z.object({
  scaleMin: z.number(),
  scaleMax: z.number(),
  zoneMin: z.number().nullable(),
  zoneMax: z.number().nullable(),
  value: z.number().nullable(),
});
export type BulletScale = z.infer<typeof BulletScale>;

/** limit × stage: what was found, by how much, by which method, on which bytes. */
export const Finding = z.object({
  limitId: z.string(),
  kind: z.string(),
  severity: Severity,
  stage: z.enum(['measured', 'planned', 'proven']),
  state: FindingState,
  label: z.string(),
  /** The figure as people read it. */
  figure: z.string().nullable(),
  /** The figure in the limit's own unit, where it is a number. */
  value: z.number().nullable(),
  unit: z.string().nullable(),
  wanted: z.string(),
  /** Room left inside the limit in its own unit, negative where short; null where it is not a number. */
  margin: z.number().nullable(),
  method: z.string(),
  /** SHA-256 of the bytes it was measured on; null for a plan. */
  measuredOn: z.string().nullable(),
  /** One plain sentence: figure, reason, what to do. */
  sentence: z.string(),
  fix: Fix.nullable(),
  bullet: BulletScale.nullable(),
});
export type Finding = z.infer<typeof Finding>;

/** Kinds that no machine measures: while nothing speaks against them, the person judges, and nothing is called met. */
const JUDGED_BY_PERSON = new Set(['whole-piece', 'sharp', 'one-take']);

/** Whether the finding holds a file back: a *must* that is short, or that could have been measured and was not. */
export function isHoldingBack(finding: Finding): boolean {
  if (finding.severity !== 'must' || finding.state === 'met') return false;
  return finding.state === 'short' || !JUDGED_BY_PERSON.has(finding.kind);
}

/** Whether every *must* among the findings is met, or left to the person where no machine can measure it. */
export function isEveryMustMet(findings: readonly Finding[]): boolean {
  return !findings.some(isHoldingBack);
}
