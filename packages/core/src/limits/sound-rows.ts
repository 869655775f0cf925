import { tightenMax, tightenMin } from './ceilings.ts';
import { byMachine, byPerson, checkNumber, neverRefuses, type LimitRow, type Verdict } from './row.ts';
import type { Subject } from './subject.ts';
import { describeBounds, formatSigned, trimNumber, writeLufs } from './words.ts';

const isTimed = (subject: Subject) => subject.mediaKind === 'video' || subject.mediaKind === 'sound';
const isHeard = (subject: Subject) => isTimed(subject) && subject.hasSound;
const writeKilohertz = (rateHz: number) => `${trimNumber(rateHz / 1000, 1)} kHz`;
const channelWords: Readonly<Record<number, string>> = { 1: 'mono', 2: 'stereo' };

export const soundPresentRow: LimitRow<'sound-present'> = {
  kind: 'sound-present',
  scope: 'file',
  judgedBy: 'machine',
  label: () => 'Sound',
  wanted: (limit) => (limit.isWanted ? 'with sound' : 'without sound'),
  concerns: isTimed,
  check: (limit, subject) => {
    const isMet = subject.hasSound === limit.isWanted;
    return {
      state: isMet ? 'met' : 'short',
      figure: subject.hasSound ? 'with sound' : 'no sound',
      method: 'decoded sound stream',
      reason: isMet ? 'as wanted' : subject.hasSound ? 'it has sound' : 'it has no sound',
    };
  },
  steer: (limit, ceilings) => ({ ...ceilings, isSoundWanted: ceilings.isSoundWanted ?? limit.isWanted }),
  refuse: (limit, { facts, kind }) => {
    const message =
      limit.isWanted && !facts.sound
        ? 'The take has no sound, and sound is wanted. Check the microphone and record again.'
        : !limit.isWanted && kind === 'sound'
          ? 'The take is sound alone, and none is wanted. Bring in the video.'
          : null;
    return message === null ? null : { reason: 'cannot-be-changed', limitId: limit.id, message };
  },
  fix: (limit) =>
    limit.isWanted ? byPerson('Check the microphone and record again.') : byMachine('Leave the sound out.'),
};

/** More sides than this are not made. */
const MOST_MADE_CHANNELS = 2;

export const channelsRow: LimitRow<'channels'> = {
  kind: 'channels',
  scope: 'file',
  judgedBy: 'machine',
  label: () => 'Channels',
  wanted: (limit) => channelWords[limit.wanted] ?? String(limit.wanted),
  concerns: isHeard,
  check: (limit, subject) =>
    checkNumber({
      value: subject.channels,
      min: limit.wanted,
      max: limit.wanted,
      unit: 'channel',
      write: (count) => channelWords[count] ?? `${count} channels`,
      writeGap: String,
      method: 'decoded sound stream',
      over: 'too many',
      under: 'too few',
    }),
  steer: (limit, ceilings) => ({ ...ceilings, channels: tightenMax(ceilings.channels, limit.wanted) }),
  refuse: (limit, { facts }) =>
    facts.sound && limit.wanted > MOST_MADE_CHANNELS
      ? {
          reason: 'cannot-be-changed',
          limitId: limit.id,
          message: `Apodix makes mono and stereo; ${limit.wanted} channels are wanted. Ask whether stereo is taken.`,
        }
      : null,
  fix: () => byMachine('Mix it to the wanted channels.'),
};

export const sampleRateRow: LimitRow<'sample-rate'> = {
  kind: 'sample-rate',
  scope: 'file',
  judgedBy: 'machine',
  label: () => 'Sample rate',
  wanted: (limit) => describeBounds(limit.min, limit.max, writeKilohertz),
  concerns: isHeard,
  check: (limit, subject) =>
    checkNumber({
      value: subject.sampleRateHz,
      min: limit.min,
      max: limit.max,
      unit: 'Hz',
      write: writeKilohertz,
      method: 'decoded sound stream',
      over: 'too high',
      under: 'too low',
    }),
  steer: (limit, ceilings) => ({
    ...ceilings,
    minRateHz: tightenMin(ceilings.minRateHz, limit.min),
    maxRateHz: tightenMax(ceilings.maxRateHz, limit.max),
  }),
  // Which rates a coding has is known when it is chosen.
  refuse: neverRefuses,
  fix: () => byMachine('Convert the sample rate.'),
};

const loudnessMethod = 'integrated loudness, ITU-R BS.1770-4';

export const loudnessRow: LimitRow<'loudness'> = {
  kind: 'loudness',
  scope: 'file',
  judgedBy: 'machine',
  label: () => 'Sound level',
  wanted: (limit) => describeBounds(limit.min, limit.max, writeLufs),
  concerns: isHeard,
  check: (limit, subject) =>
    checkNumber({
      value: subject.loudnessLufs,
      min: limit.min,
      max: limit.max,
      unit: 'LUFS',
      write: writeLufs,
      writeGap: (gap) => `${formatSigned(gap)} LU`,
      method: loudnessMethod,
      over: 'too loud',
      under: 'too quiet',
      unknownReason: 'it is silent',
      uncertainty: subject.uncertainty.loudnessLu,
      scale: [Math.min(-40, (limit.min ?? -40) - 4), 0],
    }),
  steer: (limit, ceilings) => ({
    ...ceilings,
    loudness: {
      min: tightenMin(ceilings.loudness?.min ?? null, limit.min),
      max: tightenMax(ceilings.loudness?.max ?? null, limit.max),
    },
  }),
  refuse: (limit, { facts, level }) =>
    facts.sound && level && level.loudnessLufs === null && limit.min !== null
      ? {
          reason: 'cannot-be-changed',
          limitId: limit.id,
          message: 'The kept part is silent: there is nothing to raise. Keep another part, or record again.',
        }
      : null,
  fix: (_limit, subject) =>
    subject.loudnessLufs === null
      ? byPerson('There is nothing to hear: record again.')
      : byMachine('Set the level with one gain.'),
};

function checkPeak(max: number, subject: Subject): Verdict {
  // Silence has no peak, and none is too high.
  if (subject.truePeakDbtp === null && subject.stage !== 'planned')
    return {
      state: 'met',
      figure: 'silence',
      method: 'true peak, ITU-R BS.1770-4 annex 2',
      reason: 'there is nothing to hear',
    };
  return checkNumber({
    value: subject.truePeakDbtp,
    min: null,
    max,
    unit: 'dBTP',
    write: (peak) => `${formatSigned(peak)} dBTP`,
    writeGap: (gap) => `${formatSigned(gap)} dB`,
    method: 'true peak, ITU-R BS.1770-4 annex 2',
    over: 'too high',
    under: 'too low',
    unknownReason: 'not known yet',
    uncertainty: subject.uncertainty.peakDb,
    scale: [-30, 3],
  });
}

export const truePeakRow: LimitRow<'true-peak'> = {
  kind: 'true-peak',
  scope: 'file',
  judgedBy: 'machine',
  label: () => 'Highest peak',
  wanted: (limit) => `at most ${formatSigned(limit.maxDbtp)} dBTP`,
  concerns: isHeard,
  check: (limit, subject) => checkPeak(limit.maxDbtp, subject),
  steer: (limit, ceilings) => ({
    ...ceilings,
    maxPeakDbtp: tightenMax(ceilings.maxPeakDbtp, limit.maxDbtp),
  }),
  refuse: neverRefuses,
  fix: () => byMachine('Lower the whole sound a little.'),
};

/** What a plan keeps below full scale where no clipping is wanted. */
const UNCLIPPED_DBTP = -0.1;

export const noClippingRow: LimitRow<'no-clipping'> = {
  kind: 'no-clipping',
  scope: 'file',
  judgedBy: 'machine',
  label: () => 'No clipping',
  wanted: () => 'no flat tops, true peak below 0 dBTP',
  concerns: isHeard,
  check: (_limit, subject) => {
    const { clippedCount } = subject;
    const method = 'flat tops at full scale in the recording, and true peak (ITU-R BS.1770-4 annex 2)';
    if (clippedCount !== null && clippedCount > 0)
      return {
        state: 'short',
        figure: `${clippedCount} ${clippedCount === 1 ? 'place' : 'places'}`,
        value: clippedCount,
        unit: 'place',
        margin: -clippedCount,
        method,
        reason: 'the recording itself was cut off at full scale',
      };
    const peak = checkPeak(0, subject);
    if (clippedCount === null && peak.state === 'met')
      return { ...peak, state: 'unknown', method, reason: 'nobody looked for flat tops' };
    return { ...peak, method };
  },
  steer: (_limit, ceilings) => ({
    ...ceilings,
    maxPeakDbtp: tightenMax(ceilings.maxPeakDbtp, UNCLIPPED_DBTP),
  }),
  refuse: (limit, { level }) =>
    level && level.clippedCount > 0
      ? {
          reason: 'cannot-be-changed',
          limitId: limit.id,
          message:
            `The recording is cut off at full scale in ${level.clippedCount} ` +
            `${level.clippedCount === 1 ? 'place' : 'places'} of the kept part; no gain brings that back. ` +
            'Keep another part, or record again with the microphone further away.',
        }
      : null,
  fix: () => byPerson('Record again with the microphone further away.'),
};
