import { joinStates, type Finding, type FindingState } from '@apodix/core';

/** State of each bar of the proof sign; `open` where nothing was looked at yet. */
export interface SignStates {
  readonly measured: FindingState | 'open';
  readonly planned: FindingState | 'open';
  readonly proven: FindingState | 'open';
}

/**
 * What the sign shows of some findings: each bar from those of its own stage, *musts* and rows of the proof
 * alone.
 */
export function readSign(findings: readonly Pick<Finding, 'stage' | 'state' | 'severity'>[]): SignStates {
  const at = (stage: Finding['stage']) => {
    const own = findings.filter((finding) => finding.stage === stage && finding.severity === 'must');
    return own.length === 0 ? 'open' : joinStates(own);
  };
  return { measured: at('measured'), planned: at('planned'), proven: at('proven') };
}
