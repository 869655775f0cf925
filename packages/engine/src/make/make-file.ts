import {
  ApodixError,
  buildTakeTimeline,
  describeOrigin,
  isEveryMustMet,
  judgeMade,
  listJoinedSources,
  planTakeSteady,
  readMaxBytes,
  readPlanRecipe,
  readSoundSource,
  type ClarityEvidence,
  type Comparison,
  type Evidence,
  type Finding,
  type JudgeContext,
  type MediaFacts,
  type Plan,
  type TakeSeries,
  type Timeline,
} from '@apodix/core';
import { open, rename, stat, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { drawCard } from '../card/draw-card.ts';
import { planWitnessComparison, readLikeness, summarizeLikeness } from '../likeness/compare-witnesses.ts';
import { extractMoments, type Moment } from '../likeness/extract-moments.ts';
import { PhotoRendered } from '../still/photo-request.ts';
import { runPhotoChild } from '../photo/run-photo-child.ts';
import { throwIfCancelled } from '../process/fail.ts';
import { ProgressMeter, type OnProgress } from '../process/progress.ts';
import { withTemporaryFolder } from '../process/temporary-folder.ts';
import { measureStillClarity } from '../prove/measure-still-clarity.ts';
import { proveMade } from '../prove/prove-made.ts';
import { checkForm } from './check-form.ts';
import type { SeparateFile } from './cut-sound.ts';
import type { JoinedFile } from '../gather/joined-files.ts';
import { makeSound } from './make-sound.ts';
import { convertToCoding, makeVideo, type MadeVideo } from './make-video.ts';
import { COPIED_SHARE, PROVING_FROM } from './make-video-input.ts';
import type { WorkingFiles } from './working-files.ts';

export interface MakeInput {
  readonly sourcePath: string;
  readonly facts: MediaFacts;
  readonly series: TakeSeries;
  /** What the proof rests on. */
  readonly evidence: Evidence;
  readonly plan: Plan;
  readonly judge: JudgeContext;
  /**
   * A separate recording whose sound is heard: facts, series and evidence above tell of it already, in the
   * picture's own time.
   */
  readonly separate?: Omit<SeparateFile, 'source'> | null;
  /** Takes that parts are joined from: facts, series and evidence above tell of all of them. */
  readonly joined?: readonly JoinedFile[];
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
  /** Findings of every limit, and of the proof. */
  readonly findings: Finding[];
  readonly everyMustMet: boolean;
  readonly comparison: Comparison;
  /** As it was carried out. */
  readonly plan: Plan;
  readonly moments: readonly Moment[];
}

/** Faults after which a picture that was taken over is coded instead. */
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
  return proveFile(input, await makeByKind(input, timeline, folder, meter), timeline, folder, meter);
}

/** The timeline that a plan follows; null for pictures that stand still. */
function buildPlanTimeline({ plan, facts, series }: MakeInput): Timeline | null {
  if (plan.kind === 'photo') return null;
  const recipe = readPlanRecipe(plan);
  if (plan.kind === 'sound') {
    const mostUs = Math.floor((plan.sampleCount * 1e6) / plan.sound.rateHz);
    const { places = null } = series;
    const whole = buildTakeTimeline({ ...facts, video: null }, { frames: null, places }, recipe, null);
    return mostUs < whole.durationUs ? shorten(whole, mostUs) : whole;
  }
  const timeline = buildTakeTimeline(facts, series, recipe, plan.cut.frameRate, plan.cut.durationUs);
  if (timeline.frameCount !== plan.cut.frameCount)
    throw new ApodixError('MAKE_FAILED', {
      detail: `The plan has ${plan.cut.frameCount} frames, its timeline ${timeline.frameCount}.`,
    });
  return timeline;
}

/** The same, ending earlier: a coding that adds to the length leaves less room for the sound itself. */
function shorten(timeline: Timeline, mostUs: number): Timeline {
  const spans = timeline.spans
    .filter((span) => span.outputStartUs < mostUs)
    .map((span) => {
      const cutUs = Math.max(0, span.outputFinishUs - mostUs);
      return {
        ...span,
        outputFinishUs: span.outputFinishUs - cutUs,
        sourceFinishUs: span.sourceFinishUs - cutUs,
      };
    });
  return { ...timeline, durationUs: mostUs, spans };
}

interface MadeByKind {
  readonly path: string;
  readonly plan: Plan;
  readonly video: MadeVideo | null;
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
  meter.begin('Proving it', video?.recoded ? COPIED_SHARE : plan.kind === 'video' ? PROVING_FROM : 0.9, 1);
  const witnesses = video?.witnesses ?? null;
  const seen = witnesses && plan.kind === 'video' ? planWitnessComparison(plan.cut, witnesses, folder) : null;
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

async function makeByKind(
  input: MakeInput,
  timeline: Timeline | null,
  folder: string,
  meter: ProgressMeter,
): Promise<MadeByKind> {
  const { plan, facts, series, sourcePath, signal } = input;
  const source = readSoundSource(readPlanRecipe(plan));
  if (source && !input.separate)
    throw new ApodixError('MAKE_FAILED', { detail: 'The separate recording of the sound is missing.' });
  const separate = source && input.separate ? { ...input.separate, source } : null;
  const joined = input.joined ?? [];
  if (joined.length < listJoinedSources(readPlanRecipe(plan)).length)
    throw new ApodixError('MAKE_FAILED', { detail: 'A take that parts are joined from is missing.' });
  const drawn = (series.places ?? []).filter((place) => place.drawn);
  const recipe = readPlanRecipe(plan);
  const steady = planTakeSteady(facts, series, recipe);
  if (plan.kind === 'video' && recipe.picture.steady !== null && !steady)
    throw new ApodixError('MAKE_FAILED', { detail: 'How the camera shook was not measured.' });
  const cardPath = await writeCard(input, folder);
  const files = { path: sourcePath, facts, joined, drawn, cardPath, steady };
  const common = { ...files, separate, folder, meter, ...(signal ? { signal } : {}) };
  if (plan.kind === 'video') {
    if (!series.frames || !timeline) throw new TypeError('A video needs its frame times.');
    const { frames } = series;
    const video = await makeVideo({ ...common, frames, series, timeline, plan, working: input.working });
    return { path: video.path, plan: video.plan, video };
  }
  if (plan.kind === 'sound') {
    if (!timeline) throw new TypeError('Sound needs a timeline.');
    return { ...(await makeSound({ ...common, plan, timeline })), plan, video: null };
  }
  meter.begin('Making the picture', 0, 0.9);
  const outputPath = join(folder, `photo.${plan.container}`);
  const answer = PhotoRendered.parse(
    await runPhotoChild(
      {
        task: 'render',
        path: sourcePath,
        container: facts.container,
        picture: plan.recipe.picture,
        widthPx: plan.widthPx,
        heightPx: plan.heightPx,
        leastShortEdgePx: plan.leastShortEdgePx,
        maxBytes: readMaxBytes(plan),
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

/** The opening card as a picture file of the size of the result; null where none is wished. */
async function writeCard({ plan }: MakeInput, folder: string): Promise<string | null> {
  const { card } = readPlanRecipe(plan);
  if (!card || plan.kind !== 'video') return null;
  const path = join(folder, 'card.png');
  await writeFile(path, await drawCard(card, plan.cut));
  return path;
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
