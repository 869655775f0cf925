import type { Finding } from './finding.ts';
import type { Limit } from './limit.ts';
import type { Refusal } from './refusal.ts';
import type { Situation } from './row.ts';
import { isLimitForKind } from './steer.ts';
import { findRow } from './table.ts';

/** Why *musts* cannot be met with this take and recipe, before anything is planned; one refusal a limit. */
export function refuseLimits(
  limits: readonly Limit[],
  situation: Situation,
  slotId: string | null,
): (Refusal & { readonly limitId: string })[] {
  return limits
    .filter(
      (limit) =>
        limit.severity === 'must' &&
        findRow(limit).scope === 'file' &&
        isLimitForKind(limit, situation.kind, limits, slotId),
    )
    .flatMap((limit) => {
      const refusal = findRow(limit).refuse(limit, situation);
      return refusal ? [{ ...refusal, limitId: limit.id }] : [];
    });
}

/** What a plan itself falls short of: no *must* that it would miss is made in silence. */
export function refuseShortPlan(findings: readonly Finding[], known: ReadonlySet<string>): Refusal[] {
  return findings.flatMap((finding) =>
    finding.of === 'limit' &&
    finding.severity === 'must' &&
    finding.state === 'short' &&
    !known.has(finding.limitId)
      ? [
          {
            reason: 'cannot-be-met' as const,
            limitId: finding.limitId,
            message: [`${finding.label}: ${finding.sentence}.`, finding.fix?.text].filter(Boolean).join(' '),
          },
        ]
      : [],
  );
}
