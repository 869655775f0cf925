import type { FrameTimes, MediaFacts, TakeComplexity, VideoPlan } from '@apodix/core';
import type { ProgressMeter } from '../process/progress.ts';
import { makeInChunks } from './make-chunks.ts';
import { makeInTwoPasses } from './two-pass.ts';
import { choosePicture, type WorkingFiles } from './working-files.ts';

export interface MakeVideoInput {
  readonly path: string;
  readonly facts: MediaFacts;
  readonly frames: FrameTimes;
  readonly complexity: TakeComplexity | null;
  /** Times of the take's keyframes, ascending; none where they are not known. */
  readonly keyframesUs: readonly number[];
  readonly plan: VideoPlan;
  readonly working?: WorkingFiles | undefined;
  readonly folder: string;
  readonly meter: ProgressMeter;
  readonly signal?: AbortSignal;
}

/** Frames of the cut source that were kept without loss while the file was made, for the proof. */
export interface Witnesses {
  /** In the order of the output; frames of a later file replace those of an earlier one from its first on. */
  readonly paths: readonly string[];
  /** Every so many frames of the output one was kept, and the very last. */
  readonly every: number;
}

export interface MadeVideo {
  readonly path: string;
  readonly witnesses: Witnesses | null;
}

/** Makes the planned video from the intermediate where there is one, else from the take. */
export async function makeVideo(input: MakeVideoInput): Promise<MadeVideo> {
  const picture = choosePicture(input, input.plan, input.working);
  if (input.plan.videoCodec === 'vp9') return { ...(await makeInTwoPasses(input, picture)), witnesses: null };
  return makeInChunks(input, picture);
}
