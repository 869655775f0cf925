import { z } from 'zod';
import { Rational } from '../media/facts.ts';

/**
 * One way of coding every sampled window: lines, share of the frames, rate factor; with what it came to in
 * each window.
 */
export const FitPoint = z.object({
  /** Short edge in pixels. */
  lines: z.int().positive(),
  /** Every so many frames one is kept. */
  rateDivisor: z.union([z.literal(1), z.literal(2)]),
  crf: z.number(),
  /** Bytes of the picture in each window. */
  bytes: z.array(z.number().positive()),
  /** Structural similarity to the recording in each window, at the size of the reference. */
  ssim: z.array(z.number().max(1)),
  /**
   * The same at the size that it was coded in, against the recording reduced to that size: what the proof of
   * a made file measures.
   */
  ownSsim: z.array(z.number().max(1)),
});
export type FitPoint = z.infer<typeof FitPoint>;

/** What short samples of a take came to when they were really coded. */
export const FitSamples = z.object({
  /** Tells by what the samples were taken; others are wanted where it differs. */
  key: z.string(),
  codec: z.enum(['h264', 'vp9']),
  /** The size that clarity is measured at: the recording as large as the limits allow. */
  referenceLines: z.int().positive(),
  frameRate: Rational,
  /** In the order in which they were sampled. */
  windows: z.array(z.object({ startUs: z.int(), durationUs: z.int().positive() })),
  /** How many windows there are to be; as many as there are where nothing is said. */
  wanted: z.int().positive().optional(),
  points: z.array(FitPoint),
  /** What coding took on this machine, in seconds for each million pixels. */
  secondsPerMegapixel: z.number().positive(),
});
export type FitSamples = z.infer<typeof FitSamples>;

/** One way of coding that is sampled. */
export interface SampleWay {
  readonly lines: number;
  readonly rateDivisor: 1 | 2;
  readonly crf: number;
}

/** What is to be sampled. */
export interface SampleSpec {
  readonly key: string;
  readonly codec: 'h264' | 'vp9';
  /** Descending; the first is the reference. */
  readonly lines: readonly number[];
  readonly rateDivisors: readonly (1 | 2)[];
  readonly crfs: readonly number[];
  /** Those that tell most come first, so that a few of them do for a beginning. */
  readonly windows: readonly SampleWindow[];
}

export interface SampleWindow {
  readonly startUs: number;
  readonly durationUs: number;
}

/** Whether all is sampled that was to be. */
export function isSampled(samples: FitSamples | null | undefined, { key }: Pick<SampleSpec, 'key'>): boolean {
  return samples?.key === key && samples.windows.length >= (samples.wanted ?? 0);
}

/**
 * Windows that are still to be sampled after those that were. A take may have been cut otherwise in the
 * meantime: what overlaps with one that is known tells nothing new.
 */
export function listOpenWindows(
  spec: Pick<SampleSpec, 'key' | 'windows'>,
  known: FitSamples | null,
): readonly SampleWindow[] {
  if (known?.key !== spec.key) return spec.windows;
  const isNew = (window: SampleWindow) =>
    known.windows.every(
      ({ startUs, durationUs }) =>
        window.startUs + window.durationUs <= startUs || startUs + durationUs <= window.startUs,
    );
  return spec.windows.filter(isNew).slice(0, Math.max(0, (known.wanted ?? 0) - known.windows.length));
}

/** Whether a way lies beyond all that was sampled of its lines: what it would give is not known there. */
export function isBeyondSamples(way: SampleWay, { points }: Pick<FitSamples, 'points'>): boolean {
  const crfs = points
    .filter(({ lines, rateDivisor }) => lines === way.lines && rateDivisor === way.rateDivisor)
    .map(({ crf }) => crf);
  return way.crf < Math.min(...crfs) || way.crf > Math.max(...crfs);
}

/**
 * Bytes of a window coded only in part, as its share of the whole window: a part opens with a keyframe as the
 * whole does, which counts for less there.
 *
 * @param frameBytes Bytes of each coded frame, the keyframe first and the only one.
 * @param wholeUs Duration of the whole window; `partUs` is that of what was coded.
 * @param restShare What the other frames of the whole take beside those of the part.
 */
export function shareKeyframe(
  frameBytes: readonly number[],
  partUs: number,
  wholeUs: number,
  restShare = 1,
): number {
  const sum = frameBytes.reduce((total, bytes) => total + bytes, 0);
  const [keyframe = 0] = frameBytes;
  const others = frameBytes.length - 1;
  if (others < 1 || wholeUs <= partUs) return sum;
  const share = partUs / wholeUs;
  const wholeFrames = frameBytes.length / share;
  return share * (keyframe + ((sum - keyframe) / others) * (wholeFrames - 1) * restShare);
}
