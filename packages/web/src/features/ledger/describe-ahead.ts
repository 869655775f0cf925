import type { JobView, TakeView } from '@apodix/core';

/**
 * A line about what is made of a take before it is asked for, and what its button says; null where there is
 * nothing to tell: nothing is being made ahead, or somebody waits for the take itself (`isBusy`).
 */
export function describeAhead(
  take: Pick<TakeView, 'isMadeAhead' | 'kind'>,
  job: Pick<JobView, 'state' | 'share'> | null,
  { isBusy }: { readonly isBusy: boolean },
): { readonly text: string; readonly button: string } | null {
  if (isBusy || take.kind !== 'video') return null;
  if (!take.isMadeAhead) return { text: 'Not getting ahead', button: 'Get ahead' };
  if (!job) return null;
  return {
    text:
      job.state === 'running'
        ? `Getting ahead: ${Math.floor(job.share * 100)} %`
        : 'Getting ahead when there is time',
    button: 'Don’t',
  };
}
