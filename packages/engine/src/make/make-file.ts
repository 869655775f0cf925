import {
  ApodixError,
  isEveryMustMet,
  judgeComparison,
  judgeMade,
  type Comparison,
  type Finding,
  type FrameTimes,
  type JudgeContext,
  type MediaFacts,
  type Plan,
  type TakeComplexity,
  type VideoPlan,
} from '@apodix/core';
import { open, rename, stat } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { inspectMedia } from '../bring-in/bring-in.ts';
import { PhotoRendered } from '../photo/photo-request.ts';
import { runPhotoChild } from '../photo/run-photo-child.ts';
import { throwIfCancelled } from '../process/fail.ts';
import { ProgressMeter, type OnProgress } from '../process/progress.ts';
import { settleAll } from '../process/settle-all.ts';
import { withTemporaryFolder } from '../process/temporary-folder.ts';
import { planWitnessComparison, readLikeness, type FrameLikeness } from '../prove/compare-picture.ts';
import { compareMade } from '../prove/compare-made.ts';
import { extractMoments, type Moment } from '../prove/extract-moments.ts';
import { checkAgainstPlan } from '../prove/check-against-plan.ts';
import { makeSound } from './make-sound.ts';
import { convertToCoding, makeVideo, type MadeVideo } from './make-video.ts';
import { COPIED_SHARE, PROVING_FROM } from './make-video-input.ts';
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
  /** Where frame pairs of the hardest seconds go; none are taken without it. */
  readonly momentsFolder?: string;
  /** Where the finished file goes; a file of that name is replaced only once the new one is proven. */
  readonly outputPath: string;
  readonly signal?: AbortSignal;
  readonly onProgress?: OnProgress;
}

export interface MadeFile {
  readonly path: string;
  readonly facts: MediaFacts;
  /** Findings of every limit, and of the comparison with the recording. */
  readonly findings: Finding[];
  readonly everyMustMet: boolean;
  readonly comparison: Comparison;
  /** As it was carried out. */
  readonly plan: Plan;
  readonly moments: readonly Moment[];
}

/**
 * Makes the planned file, measures it anew from its own bytes, holds it against the recording, and only then gives it its name.
 * Everything before that happens in a temporary folder beside it, which is removed however the work ends.
 */
export async function makeFile(input: MakeInput): Promise<MadeFile> {
  const meter = new ProgressMeter(input.onProgress);
  return withTemporaryFolder(dirname(input.outputPath), async (folder) => {
    const isCopied = input.plan.kind === 'video' && input.plan.method !== 'code';
    const first = await makeByKind(input, folder, meter);
    try {
      return await proveFile(input, first, folder, meter);
    } catch (error) {
      // What was taken over and does not stand the proof is coded instead.
      if (
        !isCopied ||
        first.video?.plan.method === 'code' ||
        !(error instanceof ApodixError) ||
        !['PROOF_FAILED', 'DAMAGED', 'TRUNCATED'].includes(error.code)
      )
        throw error;
      const plan = convertToCoding(input.plan as VideoPlan);
      return proveFile(
        { ...input, plan },
        await makeByKind({ ...input, plan }, folder, meter),
        folder,
        meter,
      );
    }
  });
}

interface MadeByKind {
  readonly path: string;
  readonly plan: Plan;
  readonly video: MadeVideo | null;
}

async function proveFile(
  input: MakeInput,
  made: MadeByKind,
  folder: string,
  meter: ProgressMeter,
): Promise<MadeFile> {
  const { plan } = made;
  throwIfCancelled(input.signal);
  meter.begin(
    'Proving it',
    made.video?.recoded ? COPIED_SHARE : plan.kind === 'video' ? PROVING_FROM : 0.9,
    1,
  );
  const take = { path: input.sourcePath, facts: input.facts };
  const { witnesses } = made.video ?? {};
  const seen = witnesses && plan.kind === 'video' ? planWitnessComparison(plan, witnesses, folder) : null;
  const compare = async (likeness: readonly FrameLikeness[] | null) =>
    compareMade({
      madePath: made.path,
      plan,
      take,
      frames: input.frames,
      working: made.video?.recoded ? undefined : input.working,
      likeness,
      recoded: made.video?.recoded ?? null,
      folder,
      ...(input.signal ? { signal: input.signal } : {}),
    });
  const inspected = inspectMedia(made.path, {
    onShare: (share) => meter.tell(share),
    ...(input.signal ? { signal: input.signal } : {}),
    ...(seen ? { alongside: seen.output } : {}),
  });
  const [{ facts }, comparison] = await settleAll([
    inspected,
    seen ? inspected.then(async () => compare(await readLikeness(folder, seen.numbers))) : compare(null),
  ]);
  checkAgainstPlan(facts, plan, input.facts);
  const proof = judgeComparison(comparison, plan, facts);
  if (made.video?.recoded && proof.some((finding) => finding.state === 'short'))
    throw new ApodixError('PROOF_FAILED', { detail: 'What was taken over is not the kept part.' });
  const findings = [...judgeMade(facts, plan, input.judge), ...proof];
  throwIfCancelled(input.signal);
  const moments =
    plan.kind === 'video' && witnesses && input.momentsFolder !== undefined
      ? await extractMoments({
          madePath: made.path,
          plan,
          witnesses,
          comparison,
          folder: input.momentsFolder,
          ...(input.signal ? { signal: input.signal } : {}),
        })
      : [];
  await flush(made.path);
  await rename(made.path, input.outputPath);
  meter.tell(1);
  return {
    path: input.outputPath,
    facts,
    findings,
    everyMustMet: isEveryMustMet(findings),
    comparison,
    plan,
    moments,
  };
}

async function makeByKind(input: MakeInput, folder: string, meter: ProgressMeter): Promise<MadeByKind> {
  const { plan, facts, sourcePath, signal } = input;
  const common = { path: sourcePath, facts, folder, meter, ...(signal ? { signal } : {}) };
  if (plan.kind === 'video') {
    if (!input.frames) throw new TypeError('A video needs its frame times.');
    const video = await makeVideo({
      ...common,
      frames: input.frames,
      complexity: input.complexity ?? null,
      keyframesUs: input.keyframesUs ?? [],
      plan,
      working: input.working,
    });
    return { path: video.path, plan: video.plan, video };
  }
  if (plan.kind === 'sound') return { ...(await makeSound({ ...common, plan })), plan, video: null };
  meter.begin('Making the picture', 0, 0.9);
  const outputPath = join(folder, `photo.${plan.container}`);
  const answer = PhotoRendered.parse(
    await runPhotoChild(
      {
        task: 'render',
        path: sourcePath,
        container: facts.container,
        turnDegrees: plan.recipe.turnDegrees,
        isMirrored: plan.recipe.isMirrored,
        widthPx: plan.widthPx,
        heightPx: plan.heightPx,
        leastShortEdgePx: plan.leastShortEdgePx,
        maxBytes: plan.maxBytes,
        format: plan.container,
        outputPath,
      },
      signal,
    ),
  );
  if (!answer.fits)
    throw new ApodixError('LIMITS_CANNOT_BE_MET', {
      detail: `The smallest that the limits on the picture allow has ${answer.sizeBytes} bytes.`,
    });
  return { path: outputPath, plan, video: null };
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
