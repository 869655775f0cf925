import type { FrameTimes, MediaFacts, TakeComplexity, VideoPlan } from '@apodix/core';
import type { ProgressMeter } from '../process/progress.ts';
import type { WorkingFiles } from './working-files.ts';

/** Share of the whole work at which proving begins, by the time that it takes. */
export const PROVING_FROM = 0.87;
/** The same where the coded picture is taken over. */
export const COPIED_SHARE = 0.25;

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
  /** In the order of the output: of each file the kept frames from `first` up to before `last` count. */
  readonly files: readonly { readonly path: string; readonly first: number; readonly last: number }[];
  /** Every so many frames of the output one was kept, and the very last. */
  readonly every: number;
}
