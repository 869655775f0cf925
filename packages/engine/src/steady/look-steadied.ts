import {
  ApodixError,
  SteadyLook,
  type Evidence,
  type Recipe,
  type Steadied,
  type SteadyCourse,
} from '@apodix/core';
import type { FrameTimes, MediaFacts } from '@apodix/core';
import { measureDecode } from '../inspect/measure-decode.ts';
import { probeLuma } from '../inspect/probes/picture-evidence.ts';

/**
 * Decodes a take once more and leaves of each frame what it should look like after steadying, moved by core's
 * own geometry in finer pictures than evidence is kept in. null where the take left no evidence.
 */
export async function lookSteadied(input: {
  readonly path: string;
  readonly facts: MediaFacts;
  readonly evidence: Evidence;
  readonly recipe: Recipe;
  readonly course: SteadyCourse;
  readonly frames: FrameTimes;
  readonly signal?: AbortSignal;
}): Promise<Steadied | null> {
  const { facts, course, recipe } = input;
  const { signatures } = input.evidence;
  const { video } = facts;
  if (!signatures || !video) return null;
  const look = new SteadyLook(signatures, course, recipe.picture.hidden, input.frames);
  const probe = probeLuma(video, look.size, (levels, frame) => look.read(levels, frame));
  await measureDecode({
    path: input.path,
    container: facts.container,
    pictureIndex: video.streamIndex,
    soundIndex: null,
    probes: [probe],
    isInterlaceKnown: true,
    seconds: 1800 + (facts.durationUs ?? 0) / 50_000,
    ...(input.signal ? { signal: input.signal } : {}),
  });
  const { bytes, count } = probe.finish();
  if (count !== course.x.length)
    throw new ApodixError('PROOF_FAILED', {
      detail: `The take had ${course.x.length} frames when it was measured, and has ${count} now.`,
    });
  const { widthPx, heightPx } = signatures;
  return { course, signatures: { widthPx, heightPx, luma: bytes, frameCount: count } };
}
