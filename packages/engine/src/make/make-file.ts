import { ApodixError, isEveryMustMet, judgeMade, type Finding, type FrameTimes, type JudgeContext, type MediaFacts, type Plan, type TakeComplexity } from '@apodix/core';
import { open, rename, stat } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { inspectMedia } from '../bring-in/bring-in.ts';
import { PhotoRendered } from '../photo/photo-request.ts';
import { runPhotoChild } from '../photo/run-photo-child.ts';
import { throwIfCancelled } from '../process/fail.ts';
import { ProgressMeter, type OnProgress } from '../process/progress.ts';
import { withTemporaryFolder } from '../process/temporary-folder.ts';
import { checkAgainstPlan } from '../prove/check-against-plan.ts';
import { makeSound } from './make-sound.ts';
import { makeVideo } from './make-video.ts';
import type { WorkingFiles } from './working-files.ts';

export interface MakeInput {
  readonly sourcePath: string;
  readonly facts: MediaFacts;
  readonly frames: FrameTimes | null;
  /** How much each part of the take asks for, and its keyframes; without them time alone counts. */
  readonly complexity?: TakeComplexity | null;
  readonly keyframesUs?: readonly number[];
  readonly plan: Plan;
  readonly judge: JudgeContext;
  /** What bringing in left behind; without it everything is made from the take. */
  readonly working?: WorkingFiles | undefined;
  /** Where the finished file goes; a file of that name is replaced only once the new one is proven. */
  readonly outputPath: string;
  readonly signal?: AbortSignal;
  readonly onProgress?: OnProgress;
}

export interface MadeFile {
  readonly path: string;
  readonly facts: MediaFacts;
  readonly findings: Finding[];
  readonly everyMustMet: boolean;
}

/**
 * Makes the planned file, measures it anew from its own bytes and only then gives it its name.
 * Everything before that happens in a temporary folder beside it, which is removed however the work ends.
 */
export async function makeFile(input: MakeInput): Promise<MadeFile> {
  const meter = new ProgressMeter(input.onProgress);
  return withTemporaryFolder(dirname(input.outputPath), async (folder) => {
    const madePath = await makeByKind(input, folder, meter);
    throwIfCancelled(input.signal);
    meter.begin('Proving it', 0.85, 1);
    const { facts } = await inspectMedia(madePath, input.signal ? { signal: input.signal } : {});
    checkAgainstPlan(facts, input.plan);
    const findings = judgeMade(facts, input.plan, input.judge);
    throwIfCancelled(input.signal);
    await flush(madePath);
    await rename(madePath, input.outputPath);
    meter.tell(1);
    return { path: input.outputPath, facts, findings, everyMustMet: isEveryMustMet(findings) };
  });
}

async function makeByKind(input: MakeInput, folder: string, meter: ProgressMeter): Promise<string> {
  const { plan, facts, sourcePath, signal } = input;
  const common = { path: sourcePath, facts, folder, meter, ...(signal ? { signal } : {}) };
  if (plan.kind === 'video') {
    if (!input.frames) throw new TypeError('A video needs its frame times.');
    return (await makeVideo({ ...common, frames: input.frames, complexity: input.complexity ?? null, keyframesUs: input.keyframesUs ?? [], plan, working: input.working })).path;
  }
  if (plan.kind === 'sound') return (await makeSound({ ...common, plan })).path;
  meter.begin('Making the picture', 0, 0.85);
  const outputPath = join(folder, `photo.${plan.container}`);
  const answer = PhotoRendered.parse(
    await runPhotoChild(
      {
        task: 'render', path: sourcePath, container: facts.container, turnDegrees: plan.recipe.turnDegrees, isMirrored: plan.recipe.isMirrored,
        widthPx: plan.widthPx, heightPx: plan.heightPx, leastShortEdgePx: plan.leastShortEdgePx, maxBytes: plan.maxBytes, format: plan.container, outputPath,
      },
      signal,
    ),
  );
  if (!answer.fits) throw new ApodixError('LIMITS_CANNOT_BE_MET', { detail: `The smallest that the limits on the picture allow has ${answer.sizeBytes} bytes.` });
  return outputPath;
}

async function flush(path: string): Promise<void> {
  const handle = await open(path, 'r+');
  try {
    await handle.sync();
  } finally {
    await handle.close();
  }
  if ((await stat(path)).size === 0) throw new ApodixError('PROOF_FAILED');
}
