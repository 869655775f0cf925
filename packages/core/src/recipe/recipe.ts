import { z } from 'zod';
import { TimeRange } from '../time/range.ts';
import { TurnDegrees } from '../geometry/turn.ts';

export const RECIPE_VERSION = 1;

/** What a person has chosen in Fit in place of the best that fits. */
export const FitChoice = z
  .object({
    /** Short edge in pixels; null leaves it to the plan. */
    lines: z.int().min(64).max(4320).nullable(),
    /** 2 keeps every other frame. */
    rateDivisor: z.union([z.literal(1), z.literal(2)]),
    /** No more bytes than this for the whole file; null for the limit's own. */
    maxBytes: z.int().positive().nullable(),
    /** Bits a second of a stereo pair; null for what the plan would give it. */
    soundBps: z.int().min(32_000).max(512_000).nullable(),
  })
  .strict();
export type FitChoice = z.infer<typeof FitChoice>;

/** What to do to a take; plain data, engine-neutral, never touching the take itself. */
export const Recipe = z
  .object({
    version: z.literal(RECIPE_VERSION),
    /** The part that is kept, in the take's own presentation time; null keeps all of it. */
    keep: TimeRange.nullable(),
    /** Clockwise, after the take has been stood upright by its own metadata. */
    turnDegrees: TurnDegrees,
    /** Left and right exchanged, after turning. */
    isMirrored: z.boolean(),
    /** One gain for the whole take; 0 leaves the sound as it is. */
    soundGainDb: z.number().min(-40).max(40),
    /** null makes the best that fits. */
    fit: FitChoice.nullable().default(null),
  })
  .strict();
export type Recipe = z.infer<typeof Recipe>;

export function createPlainRecipe(): Recipe {
  return {
    version: RECIPE_VERSION,
    keep: null,
    turnDegrees: 0,
    isMirrored: false,
    soundGainDb: 0,
    fit: null,
  };
}

/** Whether two recipes ask for the same file. */
export function isSameRecipe(left: Recipe, right: Recipe): boolean {
  return (
    left.keep?.startUs === right.keep?.startUs &&
    left.keep?.finishUs === right.keep?.finishUs &&
    left.turnDegrees === right.turnDegrees &&
    left.isMirrored === right.isMirrored &&
    left.soundGainDb === right.soundGainDb &&
    left.fit?.lines === right.fit?.lines &&
    left.fit?.rateDivisor === right.fit?.rateDivisor &&
    left.fit?.maxBytes === right.fit?.maxBytes &&
    left.fit?.soundBps === right.fit?.soundBps
  );
}
