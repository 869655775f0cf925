import type {
  FrameTimes,
  MediaFacts,
  SizePx,
  SteadyCourse,
  TakePlace,
  TakeSeries,
  Timeline,
  VideoPlan,
} from '@apodix/core';
import type { ProgressMeter } from '../process/progress.ts';
import { hasManyLines } from './code-piece.ts';
import type { SeparateFile } from './cut-sound.ts';
import type { JoinedFile } from '../gather/joined-files.ts';
import type { PieceStore } from './piece-store.ts';
import type { WorkingFiles } from './working-files.ts';

/**
 * Share of the whole work at which proving begins, by the time that it takes: more of it where coding is
 * quick.
 */
export function findProvingShare(cut: SizePx): number {
  return hasManyLines(cut) ? 0.77 : 0.86;
}
/** The same where the coded picture is taken over. */
export const COPIED_SHARE = 0.25;

export interface MakeVideoInput {
  readonly path: string;
  readonly facts: MediaFacts;
  readonly frames: FrameTimes;
  readonly series: Pick<TakeSeries, 'complexity' | 'keyframesUs'>;
  readonly timeline: Timeline;
  readonly plan: VideoPlan;
  readonly separate?: SeparateFile | null;
  readonly joined?: readonly JoinedFile[];
  readonly drawn?: readonly TakePlace[];
  readonly steady?: SteadyCourse | null;
  readonly cardPath?: string | null;
  readonly working?: WorkingFiles | undefined;
  /** Where coded pieces are found and stay; those of this making alone without it. */
  readonly store?: PieceStore | undefined;
  readonly folder: string;
  readonly meter: ProgressMeter;
  readonly signal?: AbortSignal;
}
