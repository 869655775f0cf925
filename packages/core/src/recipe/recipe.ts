import { z } from 'zod';
import { TimeRange } from '../time/range.ts';
import { TurnDegrees } from '../geometry/turn.ts';

export const RECIPE_VERSION = 1;

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
  })
  .strict();
export type Recipe = z.infer<typeof Recipe>;

export function createPlainRecipe(): Recipe {
  return { version: RECIPE_VERSION, keep: null, turnDegrees: 0, isMirrored: false, soundGainDb: 0 };
}

/** Whether two recipes ask for the same file. */
export function isSameRecipe(left: Recipe, right: Recipe): boolean {
  return (
    left.keep?.startUs === right.keep?.startUs &&
    left.keep?.finishUs === right.keep?.finishUs &&
    left.turnDegrees === right.turnDegrees &&
    left.isMirrored === right.isMirrored &&
    left.soundGainDb === right.soundGainDb
  );
}
