import { z } from 'zod';

/**
 * What came of holding a made file against the part of the recording that it was made from, for people to
 * look at.
 */
export const Comparison = z.object({
  /**
   * Likeness frame by frame; null where it was not measured: sound, photographs, a picture that was taken
   * over.
   */
  picture: z
    .object({
      /** Structural similarity of the frames that were compared, mean over all and over the worst second. */
      ssimMean: z.number(),
      ssimWorst: z.number(),
      /** The five worst seconds, the worst first: where they start in the made file. */
      worstSeconds: z.array(z.object({ atUs: z.int().nonnegative(), ssim: z.number() })),
      framesCompared: z.int().nonnegative(),
    })
    .nullable(),
  sound: z
    .object({
      /**
       * How much later the sound comes than in the recording, at the worst place; null where it cannot be
       * told.
       */
      offsetUs: z.number().nullable(),
    })
    .nullable(),
});
export type Comparison = z.infer<typeof Comparison>;
