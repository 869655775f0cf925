import { formatDuration } from '../units/duration.ts';
import { tightenMax, tightenMin } from './ceilings.ts';
import type { LimitOf } from './limit.ts';
import { byMachine, byPerson, checkNumber, neverRefuses, type LimitRow } from './row.ts';
import { describeBounds, trimNumber, writeBytes, writeUs } from './words.ts';

export const fileSizeRow: LimitRow<'file-size'> = {
  kind: 'file-size',
  scope: 'file',
  judgedBy: 'machine',
  label: () => 'File size',
  wanted: (limit) => describeBounds(limit.minBytes, limit.maxBytes, writeBytes),
  concerns: () => true,
  check: (limit, subject) => {
    const { sizeBytes, uncertainty } = subject;
    const verdict = checkNumber({
      value: sizeBytes,
      min: limit.minBytes,
      max: limit.maxBytes,
      unit: 'byte',
      write: writeBytes,
      method: 'count of the bytes of the file',
      over: 'too big',
      under: 'too small',
    });
    // What is made never gets bigger than the limit; how small it gets is known when it is made.
    const leastBytes = (sizeBytes ?? 0) * (1 - uncertainty.bytesShare);
    const isOpen = uncertainty.bytesShare > 0 && limit.minBytes !== null && leastBytes < limit.minBytes;
    return isOpen && verdict.state === 'met'
      ? { ...verdict, state: 'unknown', reason: 'so close that only the finished file can tell' }
      : verdict;
  },
  steer: (limit, ceilings) => ({
    ...ceilings,
    minBytes: tightenMin(ceilings.minBytes, limit.minBytes),
    maxBytes: tightenMax(ceilings.maxBytes, limit.maxBytes),
  }),
  // How long a part would fit in how many lines is told when the plan divides the bytes.
  refuse: neverRefuses,
  fix: (limit, subject) =>
    limit.maxBytes !== null && (subject.sizeBytes ?? Infinity) > limit.maxBytes
      ? byMachine('Compress it until it fits.')
      : byPerson('Check with your teacher: the file is smaller than was asked for.'),
};

/**
 * An exact length may fall short by this much (a cut is made between frames and coding blocks); it is never
 * exceeded.
 */
export const EXACT_ROOM_US = 500_000;

/** "About" widens an exact length by a tenth on both sides. */
export function readLengthBounds(limit: LimitOf<'length'>): [number | null, number | null] {
  if (!limit.isAbout) return [limit.minUs, limit.maxUs];
  return [
    limit.minUs === null ? null : Math.round(limit.minUs * 0.9),
    limit.maxUs === null ? null : Math.round(limit.maxUs * 1.1),
  ];
}

/** The same with the room that an exact length has below. */
export function readAcceptedBounds(limit: LimitOf<'length'>): [number | null, number | null] {
  const [min, max] = readLengthBounds(limit);
  const isExact = !limit.isAbout && min !== null && min === max;
  return [isExact ? Math.max(0, min - EXACT_ROOM_US) : min, max];
}

const writeLengthGap = (gap: number) => (gap < 100_000 ? `${trimNumber(gap / 1000, 1)} ms` : writeUs(gap));

export const lengthRow: LimitRow<'length'> = {
  kind: 'length',
  scope: 'file',
  judgedBy: 'machine',
  label: () => 'Length',
  wanted: (limit) => {
    const [min, max] = readLengthBounds(limit);
    return `${limit.isAbout ? 'about, ' : ''}${describeBounds(min, max, writeUs)}`;
  },
  concerns: (subject) => subject.mediaKind === 'video' || subject.mediaKind === 'sound',
  check: (limit, subject) => {
    const [min, max] = readAcceptedBounds(limit);
    return checkNumber({
      value: subject.durationUs,
      min,
      max,
      unit: 'µs',
      write: writeUs,
      writeGap: writeLengthGap,
      method: 'longest stream, by its time stamps',
      over: 'too long',
      under: 'too short',
    });
  },
  steer: (limit, ceilings) => {
    const [min, max] = readAcceptedBounds(limit);
    return {
      ...ceilings,
      minUs: tightenMin(ceilings.minUs, min),
      maxUs: tightenMax(ceilings.maxUs, max),
    };
  },
  refuse: (limit, { wholeUs }) => {
    const [min] = readAcceptedBounds(limit);
    if (wholeUs === null || min === null || wholeUs >= min) return null;
    return {
      reason: 'too-short',
      availableUs: wholeUs,
      wantedUs: min,
      message:
        `The take runs ${formatDuration(wholeUs)}; at least ${formatDuration(min)} is wanted. ` +
        'Record a longer one.',
    };
  },
  fix: (limit, subject) => {
    const [, max] = readLengthBounds(limit);
    return max !== null && (subject.durationUs ?? 0) > max
      ? byMachine('Bring start and finish closer together.')
      : byPerson('Keep more of the take, or record a longer one.');
  },
};
