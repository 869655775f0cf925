import { z } from 'zod';
import type { Finding } from '../limits/finding.ts';
import type { MediaFacts } from '../media/facts.ts';
import { convertSsimToClarity, describeClarity } from '../fit/clarity.ts';
import type { Plan } from './plan.ts';

/** What came of holding a made file against the part of the recording that it was made from. */
export const Comparison = z.object({
  /** The picture, frame by frame; null for sound and photographs. */
  picture: z
    .object({
      /** Structural similarity of the frames that were compared, mean over all and over the worst second. */
      ssimMean: z.number(),
      ssimWorst: z.number(),
      /** The five worst seconds, the worst first: where they start in the made file. */
      worstSeconds: z.array(z.object({ atUs: z.int().nonnegative(), ssim: z.number() })),
      firstSsim: z.number(),
      lastSsim: z.number(),
      framesCompared: z.int().nonnegative(),
      /** The stream was taken over unchanged, so that nothing can differ. */
      isCopied: z.boolean(),
    })
    .nullable(),
  sound: z
    .object({
      /** How much later the sound comes than in the recording; null where it is too quiet to tell. */
      offsetUs: z.number().nullable(),
      /** Loudness and true peak of the kept part of the recording, with the gain that was asked for. */
      expectedLufs: z.number().nullable(),
      expectedPeakDbtp: z.number().nullable(),
    })
    .nullable(),
});
export type Comparison = z.infer<typeof Comparison>;

/** Sound that is this far from its picture is seen (ITU-R BT.1359-1: 45 ms early, 125 ms late; here a third of the stricter). */
const MOST_OFFSET_US = 15_000;
/** Coding takes the highest tones away: of noise-like sound up to 1 LU. A wrong gain or a lost channel is 3 LU and more. */
const MOST_LOUDNESS_CHANGE_LU = 1.5;
/** Beyond this the picture is not what the samples promised. */
const MOST_CLARITY_LOST = 0.04;
const LEAST_SAME_FRAME = 0.45;

type Row = Pick<Finding, 'state' | 'figure' | 'value' | 'unit' | 'wanted' | 'method' | 'sentence'> & {
  readonly id: string;
  readonly label: string;
  readonly margin?: number;
  readonly fix?: string;
};

/** Findings of the proof itself, beside those of the limits: whether the file is the recording, and nothing but it. */
export function judgeComparison(comparison: Comparison, plan: Plan, facts: MediaFacts): Finding[] {
  return [...judgeFrames(comparison, plan, facts), ...judgeSound(comparison, plan, facts)].map((row) => ({
    limitId: `proof-${row.id}`,
    kind: 'proof',
    severity: 'must',
    stage: 'proven',
    state: row.state,
    label: row.label,
    figure: row.figure,
    value: row.value,
    unit: row.unit,
    wanted: row.wanted,
    margin: row.margin ?? null,
    method: row.method,
    measuredOn: facts.sha256,
    sentence: row.sentence,
    fix:
      row.state === 'short'
        ? {
            by: 'machine',
            text: row.fix ?? 'Make the file again. If it comes out short again, bring the recording in anew.',
          }
        : null,
    bullet: null,
  }));
}

function judgeFrames({ picture }: Comparison, plan: Plan, facts: MediaFacts): Row[] {
  if (plan.kind !== 'video' || !picture || !facts.video) return [];
  const count = facts.video.frameCount;
  const isSameCount = count === plan.frameCount;
  const isSameEnds =
    Math.min(picture.firstSsim, picture.lastSsim) >= Math.min(LEAST_SAME_FRAME, picture.ssimMean - 0.2);
  const promised = plan.predictedOwnSsim;
  const lost = promised === null ? 0 : promised - picture.ssimMean;
  const clarity = convertSsimToClarity(picture.ssimMean);
  const compared = picture.isCopied
    ? 'the stream was taken over unchanged, and decoded whole'
    : `${picture.framesCompared} frames compared with the cut recording (SSIM)`;
  return [
    {
      id: 'frames',
      label: 'Frames',
      state: isSameCount ? 'met' : 'short',
      figure: String(count),
      value: count,
      unit: 'frame',
      wanted: `${plan.frameCount}`,
      margin: count - plan.frameCount,
      method: 'every frame decoded and counted',
      sentence: isSameCount
        ? `All ${count} frames are there.`
        : `${count} frames are there, ${plan.frameCount} were to be.`,
    },
    {
      id: 'ends',
      label: 'First and last frame',
      state: isSameEnds ? 'met' : 'short',
      figure: isSameEnds ? 'the same' : 'differ',
      value: Math.min(picture.firstSsim, picture.lastSsim),
      unit: null,
      wanted: 'those of the kept part',
      method: compared,
      sentence: isSameEnds
        ? 'It starts and ends on the frames that were chosen.'
        : 'It does not start or end on the frames that were chosen.',
    },
    {
      id: 'clarity',
      label: 'Clarity',
      state: lost <= MOST_CLARITY_LOST ? 'met' : 'short',
      figure: `${clarity.toFixed(1)} of 100`,
      value: picture.ssimMean,
      unit: null,
      wanted: promised === null ? 'as the size allows' : `about ${convertSsimToClarity(promised).toFixed(1)}`,
      margin: -lost,
      method: compared,
      sentence: `${clarity.toFixed(1)} of 100 beside the recording at the file’s own size, ${describeClarity(picture.ssimMean)}; the worst second has ${convertSsimToClarity(picture.ssimWorst).toFixed(1)}.`,
      fix: 'Make it again, or choose fewer lines in the chart.',
    },
  ];
}

function judgeSound({ sound }: Comparison, plan: Plan, facts: MediaFacts): Row[] {
  if (plan.kind === 'photo' || !sound || !facts.sound) return [];
  const rows: Row[] = [];
  if (sound.offsetUs !== null) {
    const ms = sound.offsetUs / 1000;
    const isInStep = Math.abs(sound.offsetUs) <= MOST_OFFSET_US;
    rows.push({
      id: 'step',
      label: 'Sound in step',
      state: isInStep ? 'met' : 'short',
      figure: `${ms < 0 ? '−' : ''}${Math.abs(ms).toFixed(1)} ms`,
      value: sound.offsetUs,
      unit: 'us',
      wanted: `within ${MOST_OFFSET_US / 1000} ms`,
      margin: MOST_OFFSET_US - Math.abs(sound.offsetUs),
      method: 'cross-correlation with the sound of the cut recording',
      sentence: isInStep
        ? 'The sound is in step with the picture as it was recorded.'
        : `The sound comes ${Math.abs(ms).toFixed(0)} ms too ${ms > 0 ? 'late' : 'early'}.`,
    });
  }
  const [expected, found] = [sound.expectedLufs, facts.sound.loudnessLufs];
  if (expected !== null && found !== null) {
    const off = found - expected;
    const isKept = Math.abs(off) <= MOST_LOUDNESS_CHANGE_LU;
    rows.push({
      id: 'loudness',
      label: 'Loudness kept',
      state: isKept ? 'met' : 'short',
      figure: `${writeLevel(found)} LUFS`,
      value: found,
      unit: 'lufs',
      wanted: `${writeLevel(expected)} LUFS, as recorded and asked for`,
      margin: MOST_LOUDNESS_CHANGE_LU - Math.abs(off),
      method: 'ITU-R BS.1770-4 on the cut recording and on the made file',
      sentence: isKept
        ? 'The sound is as loud as it was to be.'
        : `The sound is ${Math.abs(off).toFixed(1)} LU ${off > 0 ? 'louder' : 'quieter'} than it was to be.`,
    });
  }
  return rows;
}

function writeLevel(level: number): string {
  return `${level < 0 ? '−' : ''}${Math.abs(level).toFixed(1)}`;
}
