import { turnSize, type SizePx } from '../geometry/turn.ts';
import type { Limit } from '../limits/limit.ts';
import { isCostlyToDecode, type MediaFacts, type SoundFacts, type VideoFacts } from '../media/facts.ts';
import { createPlainRecipe, type Recipe } from '../recipe/recipe.ts';
import type { FrameTimes } from '../time/frame-times.ts';
import { buildPlan } from './build-plan.ts';

/** What headers and time stamps tell of a video before it is decoded. */
export interface KnownEarly {
  readonly container: MediaFacts['container'];
  readonly sizeBytes: number;
  readonly durationUs: number;
  readonly video: VideoFacts;
  readonly sound: SoundFacts | null;
  readonly frames: FrameTimes;
}

/** With more than this share of the source's points a smaller copy saves no time. */
const MOST_SHARE = 0.7;

/**
 * The size, before turning, that a take will be made at, where a copy of it that is written while the take is measured makes the rest
 * faster: it is reduced a good deal, or costly to decode. null where the take itself does.
 */
export function planWorkingSize(
  known: KnownEarly,
  recipe: Recipe | null,
  limits: readonly Limit[],
): SizePx | null {
  const { video, frames, ...rest } = known;
  const facts: MediaFacts = {
    ...rest,
    video,
    kind: 'video',
    sha256: '0'.repeat(64),
    moovFirst: null,
    photo: null,
    captureTime: null,
    locationPresent: false,
    deviceSerialPresent: false,
  };
  const used = recipe ?? createPlainRecipe();
  const { plan } = buildPlan({ facts, recipe: used, limits, frames, takeName: 'take', nameContext: null });
  if (plan?.kind !== 'video' || plan.method !== 'code') return null;
  const isSmaller = plan.widthPx * plan.heightPx <= video.widthPx * video.heightPx * MOST_SHARE;
  return isCostlyToDecode(video) || isSmaller
    ? turnSize({ widthPx: plan.widthPx, heightPx: plan.heightPx }, used.turnDegrees)
    : null;
}
