import { formatDuration } from '../units/duration.ts';
import { byMachine, byPerson, leavesOpen, neverRefuses, type LimitRow } from './row.ts';

export const oneTakeRow: LimitRow<'one-take'> = {
  kind: 'one-take',
  scope: 'file',
  judgedBy: 'either',
  label: () => 'One unbroken take',
  wanted: () => 'no joins',
  concerns: (subject) => subject.mediaKind === 'video' || subject.mediaKind === 'sound',
  check: (_limit, subject) => {
    const method = 'spans kept by the recipe; cuts and gaps that inspection saw in the recording';
    const { spanCount, continuity } = subject;
    if (spanCount !== null && spanCount > 1)
      return {
        state: 'short',
        figure: `${spanCount} pieces`,
        value: spanCount,
        unit: 'span',
        margin: 1 - spanCount,
        method,
        reason: 'it was joined from parts',
      };
    const figure = spanCount === null ? null : 'one piece';
    if (continuity?.isSure && continuity.gaps.length === 0)
      return { state: 'met', figure, method, reason: 'recorded in one go' };
    const jump = [...(continuity?.cuts ?? []), ...(continuity?.gaps ?? [])][0];
    return {
      state: 'person',
      figure,
      method,
      reason: jump
        ? `the recording jumps at ${formatDuration(jump.atUs)}: look whether it was joined there`
        : 'only you can tell whether the recording itself was joined; no cut or gap was seen in it',
    };
  },
  steer: leavesOpen,
  refuse: neverRefuses,
  fix: () => byPerson('Use one take from start to finish.'),
};

export const locationRemovedRow: LimitRow<'location-removed'> = {
  kind: 'location-removed',
  scope: 'file',
  judgedBy: 'machine',
  label: () => 'Place removed',
  wanted: () => 'no location inside',
  concerns: () => true,
  check: (_limit, subject) => {
    const method = 'metadata of the file';
    if (subject.locationPresent === null)
      return { state: 'unknown', figure: null, method, reason: 'not known yet' };
    const isThere = subject.locationPresent;
    return {
      state: isThere ? 'short' : 'met',
      figure: isThere ? 'place inside' : 'none',
      method,
      reason: isThere ? 'it tells where it was recorded' : 'no place inside',
    };
  },
  // Whatever is made leaves it out.
  steer: leavesOpen,
  refuse: neverRefuses,
  fix: () => byMachine('Leave out where it was recorded.'),
};
