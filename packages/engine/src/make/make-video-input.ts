import type { FrameTimes, SizePx, TakeSeries, VideoPlan } from '@apodix/core';
import type { ProgressMeter } from '../process/progress.ts';
import { hasManyLines } from './code-piece.ts';
import type { MakeTakeInput } from './make-take-input.ts';
import type { PieceStore } from './piece-store.ts';
import type { WorkingFiles } from './working-files.ts';

/**
 * Share of the whole work at which proving begins, by the time that it takes: more of it where coding is
 * quick.
 */
export function findProvingShare(cut: SizePx): number {
  return hasManyLines(cut) ? 0.76 : 0.82;
}
/** The same where the coded picture is taken over. */
export const COPIED_SHARE = 0.25;

export interface MakeVideoInput extends MakeTakeInput {
  readonly frames: FrameTimes;
  readonly series: Pick<TakeSeries, 'complexity' | 'keyframesUs'>;
  readonly plan: VideoPlan;
  readonly working?: WorkingFiles | undefined;
  /** Where coded pieces are found and stay; those of this making alone without it. */
  readonly store?: PieceStore | undefined;
  /** Once it is aborted no more pieces are begun: those under way are done, and it ends as cancelled. */
  readonly enough?: AbortSignal | undefined;
  readonly meter: ProgressMeter;
}
