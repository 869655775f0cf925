import { z } from 'zod';
import { Severity } from './limit.ts';

/**
 * `unknown`: nobody measured it, so it holds back. `person`: no machine can measure it, or the evidence is
 * open; it is left to a person, and said so.
 */
export const FindingState = z.enum(['met', 'short', 'unknown', 'person']);
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

const common = {
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
  /** The evidence: what it was measured on and how. */
  method: z.string(),
  /** SHA-256 of the bytes it was measured on; null for a plan. */
  measuredOn: z.string().nullable(),
  /** One plain sentence: figure, reason, what to do. */
  sentence: z.string(),
  fix: Fix.nullable(),
  bullet: BulletScale.nullable(),
};

/** limit × stage: what was found, by how much, by which method, on which bytes. */
export const LimitFinding = z.object({
  of: z.literal('limit'),
  limitId: z.string(),
  kind: z.string(),
  ...common,
});
export type LimitFinding = z.infer<typeof LimitFinding>;

/** Rows of the proof: whether a made file is the recording, whole and in step, beside what the limits ask. */
export const ProofRowId = z.enum([
  'whole',
  'frames',
  'picture',
  'order',
  'color',
  'geometry',
  'hidden',
  'clarity',
  'lengths',
  'sound',
  'step',
  'loudness',
  'pages',
  'about',
  'private',
]);
export type ProofRowId = z.infer<typeof ProofRowId>;

export const ProofFinding = z.object({ of: z.literal('proof'), row: ProofRowId, ...common });
export type ProofFinding = z.infer<typeof ProofFinding>;

export const Finding = z.discriminatedUnion('of', [LimitFinding, ProofFinding]);
export type Finding = z.infer<typeof Finding>;

/**
 * Whether the finding holds a file back: a *must* that is short, or that could have been measured and was
 * not.
 */
export function isHoldingBack(finding: Finding): boolean {
  return finding.severity === 'must' && (finding.state === 'short' || finding.state === 'unknown');
}

/** Whether every *must* among the findings is met, or left to a person where no machine can measure it. */
export function isEveryMustMet(findings: readonly Finding[]): boolean {
  return !findings.some(isHoldingBack);
}

/** Whether it waits for a person: a *must* that no machine can judge, or with evidence that is open. */
export function isLeftToPerson(finding: Finding): boolean {
  return finding.severity === 'must' && finding.state === 'person';
}

/** How findings stand together: the worst of what holds back, else what is left to a person, else met. */
export function joinStates(findings: readonly Pick<Finding, 'state'>[]): FindingState {
  const states = findings.map((finding) => finding.state);
  if (states.includes('short')) return 'short';
  if (states.includes('unknown') || states.length === 0) return 'unknown';
  return states.includes('person') ? 'person' : 'met';
}
