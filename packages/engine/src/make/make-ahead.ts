import { ApodixError, canMakeAhead } from '@apodix/core';
import { ProgressMeter, type OnProgress } from '../process/progress.ts';
import { withTemporaryFolder } from '../process/temporary-folder.ts';
import { buildPlanTimeline, makeByKind, type PlannedWork } from './make-by-kind.ts';
import { findProvingShare } from './make-video-input.ts';
import type { PieceStore } from './piece-store.ts';

export interface MakeAheadInput extends PlannedWork {
  readonly store: PieceStore;
  /** A folder for what is not kept. */
  readonly scratchFolder: string;
  readonly onProgress?: OnProgress;
}

/**
 * Does what making the same plan would begin with, and keeps only the coded pieces, in the store: nothing is
 * proven, and there is no file. Throws a `BAD_REQUEST` for a plan that has no pieces, and what making throws.
 */
export async function makeAhead(input: MakeAheadInput): Promise<void> {
  const { plan } = input;
  if (!canMakeAhead(plan)) throw new ApodixError('BAD_REQUEST', { detail: 'Nothing can be made ahead.' });
  const whole = findProvingShare(plan.cut);
  const meter = new ProgressMeter((progress) =>
    input.onProgress?.({
      ...progress,
      stage: 'Getting ahead',
      share: Math.min(1, progress.share / whole),
    }),
  );
  await withTemporaryFolder(input.scratchFolder, (folder) =>
    makeByKind(input, buildPlanTimeline(input), folder, meter),
  );
}
