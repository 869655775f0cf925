import { z } from 'zod';
import { Rational } from '../media/facts.ts';
import { Recipe } from '../recipe/recipe.ts';

const bytes = z.int().positive();

export const SoundPlan = z.object({
  codec: z.enum(['aac', 'mp3', 'opus', 'flac', 'pcm']),
  bitrateBps: z.int().positive().nullable(),
  channels: z.int().min(1).max(8),
  rateHz: z.int().positive(),
  gainDb: z.number(),
  /** The coded sound of the take is taken over as it is. */
  isCopied: z.boolean(),
});
export type SoundPlan = z.infer<typeof SoundPlan>;

/** Which frames go into the result, and how each picture of it comes about. */
export const VideoCut = z.object({
  recipe: Recipe,
  widthPx: z.int().positive(),
  heightPx: z.int().positive(),
  frameRate: Rational,
  frameCount: z.int().positive(),
  durationUs: z.int().positive(),
  toneMapFrom: z.enum(['hlg', 'pq']).nullable(),
  isDeinterlaced: z.boolean(),
});
export type VideoCut = z.infer<typeof VideoCut>;

/** How many bytes the picture may take, and how it is coded. */
export const VideoRate = z.object({
  /** What the made file must not exceed; null where no limit says. */
  maxBytes: bytes.nullable(),
  videoCodec: z.enum(['h264', 'hevc', 'vp9']),
  videoBps: z.int().positive(),
  /** No more than this is of use to the picture. */
  usefulBps: z.int().positive(),
  /** Finer than this rate factor is of no use. */
  leastCrf: z.number().min(0).max(51),
  /**
   * What the samples of the take say: the rate factor that gives `videoBps`, and how many halve the bytes;
   * null where there are none.
   */
  model: z
    .object({ crf: z.number(), slope: z.number().positive(), sampledShare: z.number().min(0).max(1) })
    .nullable(),
});
export type VideoRate = z.infer<typeof VideoRate>;

export const VideoPlan = z.object({
  kind: z.literal('video'),
  fileName: z.string(),
  container: z.enum(['mp4', 'mov', 'webm']),
  /**
   * Coded anew; or the coded picture taken over, whole or cut with only the groups at both ends coded anew.
   */
  method: z.enum(['code', 'cut', 'rewrap']),
  cut: VideoCut,
  rate: VideoRate,
  prediction: z.object({
    bytes,
    /** Structural similarity to the recording that the samples promise; null without samples. */
    ssim: z.number().nullable(),
    /** The same at the file's own size, which is what its proof measures. */
    ownSsim: z.number().nullable(),
  }),
  sound: SoundPlan.nullable(),
});
export type VideoPlan = z.infer<typeof VideoPlan>;

export const SoundOnlyPlan = z.object({
  kind: z.literal('sound'),
  fileName: z.string(),
  container: z.enum(['m4a', 'mp3', 'wav', 'flac', 'ogg']),
  recipe: Recipe,
  maxBytes: bytes.nullable(),
  /** Samples of one side that go in, and how long the file is then told to run. */
  sampleCount: z.int().positive(),
  prediction: z.object({ bytes, durationUs: z.int().positive() }),
  sound: SoundPlan,
});
export type SoundOnlyPlan = z.infer<typeof SoundOnlyPlan>;

export const PhotoPlan = z.object({
  kind: z.literal('photo'),
  fileName: z.string(),
  container: z.enum(['jpeg', 'png', 'webp', 'tiff', 'pdf']),
  recipe: Recipe,
  maxBytes: bytes.nullable(),
  widthPx: z.int().positive(),
  heightPx: z.int().positive(),
  /** The picture may be reduced to this short edge where quality alone does not reach the bytes. */
  leastShortEdgePx: z.int().positive(),
  /** `isTight`: with all the points that are wanted it may not fit the bytes; only making it can tell. */
  prediction: z.object({ bytes, isTight: z.boolean() }),
});
export type PhotoPlan = z.infer<typeof PhotoPlan>;

/** The exact settings of the output and its predicted figures. */
export const Plan = z.discriminatedUnion('kind', [VideoPlan, SoundOnlyPlan, PhotoPlan]);
export type Plan = z.infer<typeof Plan>;

/** The recipe that a plan carries out. */
export function readPlanRecipe(plan: Plan): Recipe {
  return plan.kind === 'video' ? plan.cut.recipe : plan.recipe;
}

/** What a made file must not exceed; null where no limit says. */
export function readMaxBytes(plan: Plan): number | null {
  return plan.kind === 'video' ? plan.rate.maxBytes : plan.maxBytes;
}
