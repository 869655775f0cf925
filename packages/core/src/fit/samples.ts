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
  windows: z.array(z.object({ startUs: z.int(), durationUs: z.int().positive() })),
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
  readonly windows: readonly { readonly startUs: number; readonly durationUs: number }[];
}
