import { z } from 'zod';
import { Recipe } from '../recipe/recipe.ts';
import { TimeRange } from '../time/range.ts';
import { Rational } from '../media/facts.ts';

const Size = { widthPx: z.int().positive(), heightPx: z.int().positive() };

export const SoundPlan = z.object({
  codec: z.enum(['aac', 'mp3', 'opus', 'flac', 'pcm']),
  bitrateBps: z.int().positive().nullable(),
  channels: z.int().min(1).max(8),
  rateHz: z.int().positive(),
  gainDb: z.number(),
  /** The coded sound of the take is taken over as it is. */
  isCopied: z.boolean().default(false),
});
export type SoundPlan = z.infer<typeof SoundPlan>;

const common = {
  /** What the made file must not exceed; null where no limit says. */
  maxBytes: z.int().positive().nullable(),
  fileName: z.string(),
  /** What the finished file is expected to be. */
  predictedBytes: z.int().positive(),
  recipe: Recipe,
};

export const VideoPlan = z.object({
  kind: z.literal('video'),
  ...common,
  container: z.enum(['mp4', 'mov', 'webm']),
  /** Coded anew; or the coded picture taken over, whole or cut with only the groups at both ends coded anew. */
  method: z.enum(['code', 'cut', 'rewrap']).default('code'),
  keep: TimeRange,
  ...Size,
  frameRate: Rational,
  frameCount: z.int().positive(),
  videoCodec: z.enum(['h264', 'hevc', 'vp9']),
  videoBps: z.int().positive(),
  /** No more than this is of use to the picture. */
  usefulBps: z.int().positive(),
  /** Finer than this rate factor is of no use. */
  leastCrf: z.number().min(0).max(51).default(14),
  /** What the samples of the take say: the rate factor that gives `videoBps`, and how many halve the bytes; null where there are none. */
  rateModel: z
    .object({
      crf: z.number(),
      slope: z.number().positive(),
      sampledShare: z.number().min(0).max(1).default(0),
    })
    .nullable()
    .default(null),
  /** Structural similarity to the recording that the samples promise; null without samples. */
  predictedSsim: z.number().nullable().default(null),
  /** The same at the file's own size, which is what its proof measures. */
  predictedOwnSsim: z.number().nullable().default(null),
  toneMapFrom: z.enum(['hlg', 'pq']).nullable(),
  isDeinterlaced: z.boolean(),
  sound: SoundPlan.nullable(),
});
export type VideoPlan = z.infer<typeof VideoPlan>;

export const SoundOnlyPlan = z.object({
  kind: z.literal('sound'),
  ...common,
  container: z.enum(['m4a', 'mp3', 'wav', 'flac', 'ogg']),
  keep: TimeRange,
  sound: SoundPlan,
});
export type SoundOnlyPlan = z.infer<typeof SoundOnlyPlan>;

export const PhotoPlan = z.object({
  kind: z.literal('photo'),
  ...common,
  container: z.enum(['jpeg', 'png', 'webp', 'tiff', 'pdf']),
  ...Size,
  /** The picture may be reduced to this short edge where quality alone does not reach the bytes. */
  leastShortEdgePx: z.int().positive(),
});
export type PhotoPlan = z.infer<typeof PhotoPlan>;

/** The exact settings of the output and its predicted figures. */
export const Plan = z.discriminatedUnion('kind', [VideoPlan, SoundOnlyPlan, PhotoPlan]);
export type Plan = z.infer<typeof Plan>;

/** Why limits cannot be met with this take, as data, with what would be possible. */
export const Refusal = z.discriminatedUnion('reason', [
  z.object({
    reason: z.literal('too-long-for-size'),
    message: z.string(),
    atMostUs: z.int(),
    needsBytes: z.int(),
    lines: z.int().positive().nullable(),
  }),
  z.object({ reason: z.literal('too-short'), message: z.string(), availableUs: z.int(), wantedUs: z.int() }),
  z.object({
    reason: z.literal('picture-too-small'),
    message: z.string(),
    availablePx: z.number(),
    wantedPx: z.number(),
  }),
  z.object({
    reason: z.literal('format-not-made'),
    message: z.string(),
    wanted: z.array(z.string()),
    possible: z.array(z.string()),
  }),
  z.object({ reason: z.literal('cannot-be-changed'), message: z.string(), limitId: z.string() }),
]);
export type Refusal = z.infer<typeof Refusal>;
