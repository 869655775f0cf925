import {
  ApodixError,
  describeOrigin,
  isEveryMustMet,
  judgeMade,
  readPlanRecipe,
  type ClarityEvidence,
  type Comparison,
  type Evidence,
  type Finding,
  type JudgeContext,
  type MediaFacts,
  type Plan,
  type Timeline,
} from '@apodix/core';
import { open, rename, stat } from 'node:fs/promises';
import { dirname } from 'node:path';
import { planWitnessComparison, readLikeness, summarizeLikeness } from '../likeness/compare-witnesses.ts';
import { extractMoments, type Moment } from '../likeness/extract-moments.ts';
import { throwIfCancelled } from '../process/fail.ts';
import { ProgressMeter, type OnProgress } from '../process/progress.ts';
import { withTemporaryFolder } from '../process/temporary-folder.ts';
import { measureStillClarity } from '../prove/measure-still-clarity.ts';
import { proveMade } from '../prove/prove-made.ts';
import { checkForm } from './check-form.ts';
import { buildPlanTimeline, makeByKind, type MadeByKind, type PlannedWork } from './make-by-kind.ts';
import { convertToCoding } from './make-video.ts';
import { COPIED_SHARE, findProvingShare } from './make-video-input.ts';

export interface MakeInput extends PlannedWork {
  /** What the proof rests on. */
  readonly evidence: Evidence;
  readonly judge: JudgeContext;
  /** Where frame pairs of the hardest seconds go; none are taken without it. */
  readonly momentsFolder?: string;
  /** Where the finished file goes; a file of that name is replaced only once the new one is proven. */
  readonly outputPath: string;
  readonly onProgress?: OnProgress;
}

export interface MadeFile {
  readonly path: string;
  readonly facts: MediaFacts;
  /** Findings of every limit, and of the proof. */
  readonly findings: Finding[];
  readonly everyMustMet: boolean;
  readonly comparison: Comparison;
  /** As it was carried out. */
  readonly plan: Plan;
  readonly moments: readonly Moment[];
}

/** Faults after which a picture that was taken over is coded instead, and coded pieces are not used again. */
const CODE_INSTEAD = ['PROOF_FAILED', 'DAMAGED', 'TRUNCATED', 'MAKE_FAILED'];

/**
 * Makes the planned file, measures it anew from its own bytes, holds it against the recording, and only then
 * gives it its name. Everything before that happens in a temporary folder beside it, which is removed however
 * the work ends.
 */
export async function makeFile(input: MakeInput): Promise<MadeFile> {
  const meter = new ProgressMeter(input.onProgress);
  const { plan } = input;
  return withTemporaryFolder(dirname(input.outputPath), async (folder) => {
    if (plan.kind !== 'video' || plan.method === 'code') return makeAndProve(input, folder, meter);
    try {
      return await makeAndProve(input, folder, meter);
    } catch (error) {
      // What cannot be taken over, or was and does not stand the proof, is coded instead.
      if (!(error instanceof ApodixError) || !CODE_INSTEAD.includes(error.code)) throw error;
      return makeAndProve({ ...input, plan: convertToCoding(plan) }, folder, meter);
    }
  });
}

async function makeAndProve(input: MakeInput, folder: string, meter: ProgressMeter): Promise<MadeFile> {
  const timeline = buildPlanTimeline(input);
  const made = await makeByKind(input, timeline, folder, meter);
  const keys = made.video?.storeKeys ?? [];
  try {
    const file = await proveFile(input, made, timeline, folder, meter);
    // What does not stand the proof is not made of the same pieces again.
    if (file.findings.some(({ of, state }) => of === 'proof' && state === 'short'))
      await input.store?.forget(keys);
    return file;
  } catch (error) {
    if (error instanceof ApodixError && CODE_INSTEAD.includes(error.code)) await input.store?.forget(keys);
    throw error;
  }
}

async function proveFile(
  input: MakeInput,
  made: MadeByKind,
  timeline: Timeline | null,
  folder: string,
  meter: ProgressMeter,
): Promise<MadeFile> {
  const { plan, video } = made;
  const { signal } = input;
  throwIfCancelled(signal);
  const codedShare = plan.kind === 'video' ? findProvingShare(plan.cut) : 0.9;
  meter.begin('Proving it', video?.recoded ? COPIED_SHARE : codedShare, 1);
  const witnesses = video?.witnesses ?? null;
  const seen =
    witnesses && plan.kind === 'video' ? await planWitnessComparison(plan.cut, witnesses, folder) : null;
  let picture: Comparison['picture'] = null;
  const measureClarity = async (found: MediaFacts): Promise<ClarityEvidence | null | undefined> => {
    if (plan.kind === 'photo')
      return measureStillClarity({
        takePath: input.sourcePath,
        take: input.facts,
        madePath: made.path,
        made: found,
        picture: plan.recipe.picture,
        ...(signal ? { signal } : {}),
      });
    if (plan.kind !== 'video' || !timeline) return null;
    const rate = plan.cut.frameRate.numerator / plan.cut.frameRate.denominator;
    picture = seen ? summarizeLikeness(await readLikeness(folder, seen.numbers), rate) : null;
    return picture && { kind: 'ssim', promised: plan.prediction.ownSsim, ...picture };
  };
  const proof = await proveMade({
    madePath: made.path,
    recipe: readPlanRecipe(plan),
    takePath: input.sourcePath,
    take: { facts: input.facts, series: input.series, evidence: input.evidence },
    timeline,
    isSoundWanted: plan.kind !== 'photo' && plan.sound !== null,
    takenOver: video?.recoded
      ? { takePath: input.sourcePath, recodedCount: video.recoded.head + video.recoded.tail }
      : null,
    ...(plan.kind === 'sound' ? {} : { measureClarity }),
    ...(seen ? { alongside: seen.output } : {}),
    ...(signal ? { signal } : {}),
    onShare: (share) => meter.tell(share),
  });
  const { facts } = proof;
  checkForm(facts, plan);
  const short = proof.findings.find((finding) => finding.state === 'short');
  if (video?.recoded && short) throw new ApodixError('PROOF_FAILED', { detail: short.sentence });
  const origin = describeOrigin(plan, input.facts, input.series);
  const findings = [...judgeMade(facts, plan.fileName, origin, input.judge), ...proof.findings];
  throwIfCancelled(signal);
  const offsets = (proof.sound?.places ?? []).flatMap((place) =>
    place.offsetUs === null ? [] : [place.offsetUs],
  );
  const comparison: Comparison = {
    picture,
    sound: proof.sound && {
      offsetUs: offsets.reduce<number | null>(
        (worst, offset) => (worst === null || Math.abs(offset) > Math.abs(worst) ? offset : worst),
        null,
      ),
    },
  };
  const moments =
    plan.kind === 'video' && witnesses && input.momentsFolder !== undefined
      ? await extractMoments({
          madePath: made.path,
          plan,
          witnesses,
          comparison,
          folder: input.momentsFolder,
          ...(signal ? { signal } : {}),
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

async function flush(path: string): Promise<void> {
  const handle = await open(path, 'r+');
  try {
    await handle.sync();
  } finally {
    await handle.close();
  }
  if ((await stat(path)).size === 0) throw new ApodixError('PROOF_FAILED');
}
