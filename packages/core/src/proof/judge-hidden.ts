import { findTimeOfOutput } from '../timeline/timeline.ts';
import { formatDuration } from '../units/duration.ts';
import { unknown, when, type ProofEvidence, type Row } from './proof-evidence.ts';

/**
 * Share of its contrast that a hidden area may have in finer details: what was averaged has up to 0.18 after
 * coarse coding where it hardly stands out, what was not 0.32 and more.
 */
const MOST_HIDDEN_DETAIL = 0.24;

/** Whether what was to be hidden can still be recognised. */
export function judgeHidden({ hidden, timeline }: ProofEvidence): Row | null {
  if (hidden === undefined || !timeline) return null;
  const label = 'Hidden areas';
  if (!hidden) return unknown(label, 'not to be recognised', 'Nobody looked at the hidden areas.');
  const percent = (share: number) => `${Math.round(share * 100)} %`;
  if (hidden.looked === 0)
    return {
      state: 'met',
      label,
      figure: 'none in view',
      wanted: 'not to be recognised',
      method: 'places of the areas in the frames that are kept',
      sentence: 'No hidden area lies in what is kept.',
    };
  const isMet = hidden.worstDetail <= MOST_HIDDEN_DETAIL;
  return {
    state: when(isMet),
    label,
    figure: `${percent(hidden.worstDetail)} in details`,
    value: hidden.worstDetail,
    unit: 'share',
    wanted: `at most ${percent(MOST_HIDDEN_DETAIL)} of the contrast`,
    margin: MOST_HIDDEN_DETAIL - hidden.worstDetail,
    method: `details finer than its few cells, in ${hidden.looked} looks at the made file`,
    sentence: isMet
      ? 'What was to be hidden cannot be recognised.'
      : `Something that was to be hidden can be seen${
          hidden.worstOutput === null
            ? ''
            : ` ${formatDuration(findTimeOfOutput(timeline, hidden.worstOutput), 1)} in`
        }.`,
  };
}
