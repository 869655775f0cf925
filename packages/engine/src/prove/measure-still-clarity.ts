import type { ClarityEvidence, MediaFacts, Recipe } from '@apodix/core';
import { runPhotoChild } from '../photo/run-photo-child.ts';
import { PhotoCompared } from '../still/photo-request.ts';

/**
 * How clear a made picture is beside the photograph that it was made from; undefined where one of both is
 * none, or where it is too small to tell.
 */
export async function measureStillClarity(input: {
  readonly takePath: string;
  readonly take: MediaFacts;
  readonly madePath: string;
  readonly made: MediaFacts;
  readonly picture: Recipe['picture'];
  readonly signal?: AbortSignal;
}): Promise<ClarityEvidence | undefined> {
  const { take, made, picture, signal } = input;
  if (!take.photo || !made.photo) return undefined;
  const match = PhotoCompared.parse(
    await runPhotoChild(
      {
        task: 'compare',
        path: input.takePath,
        container: take.container,
        picture,
        madePath: input.madePath,
        madeContainer: made.container,
      },
      signal,
    ),
  );
  if (!match) return undefined;
  const { ssimMean, ssimWorst, places } = match;
  return { kind: 'ssim', ssimMean, ssimWorst, framesCompared: places, promised: null };
}
