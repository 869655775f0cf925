import {
  ApodixError,
  buildTakeTimeline,
  listJoinedSources,
  planTakeSteady,
  readMaxBytes,
  readPlanRecipe,
  readSoundSource,
  type MediaFacts,
  type Plan,
  type TakeSeries,
  type Timeline,
} from '@apodix/core';
import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { drawCard } from '../card/draw-card.ts';
import type { JoinedFile } from '../gather/joined-files.ts';
import { runPhotoChild } from '../photo/run-photo-child.ts';
import type { ProgressMeter } from '../process/progress.ts';
import { PhotoRendered } from '../still/photo-request.ts';
import type { SeparateFile } from './cut-sound.ts';
import { makeSound } from './make-sound.ts';
import { makeVideo, type MadeVideo } from './make-video.ts';
import type { PieceStore } from './piece-store.ts';
import type { WorkingFiles } from './working-files.ts';

/** What a plan is carried out with. */
export interface PlannedWork {
  readonly sourcePath: string;
  readonly facts: MediaFacts;
  readonly series: TakeSeries;
  readonly plan: Plan;
  /**
   * A separate recording whose sound is heard: facts, series and evidence above tell of it already, in the
   * picture's own time.
   */
  readonly separate?: Omit<SeparateFile, 'source'> | null;
  /** Takes that parts are joined from: facts, series and evidence above tell of all of them. */
  readonly joined?: readonly JoinedFile[];
  /** What bringing in left behind; without it everything is made from the take. */
  readonly working?: WorkingFiles | undefined;
  /** Where coded pieces are found and stay; those of this making alone without it. */
  readonly store?: PieceStore | undefined;
  /** Once it is aborted no more pieces are begun: those under way are done, and it ends as cancelled. */
  readonly enough?: AbortSignal | undefined;
  readonly signal?: AbortSignal;
}

/** The timeline that a plan follows; null for pictures that stand still. */
export function buildPlanTimeline({ plan, facts, series }: PlannedWork): Timeline | null {
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

export interface MadeByKind {
  readonly path: string;
  readonly plan: Plan;
  readonly video: MadeVideo | null;
}

/** Makes what is planned in a folder, by its kind; not proven yet. */
export async function makeByKind(
  input: PlannedWork,
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
    const video = await makeVideo({
      ...common,
      frames,
      series,
      timeline,
      plan,
      working: input.working,
      store: input.store,
      enough: input.enough,
    });
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
async function writeCard({ plan }: PlannedWork, folder: string): Promise<string | null> {
  const { card } = readPlanRecipe(plan);
  if (!card || plan.kind !== 'video') return null;
  const path = join(folder, 'card.png');
  await writeFile(path, await drawCard(card, plan.cut));
  return path;
}
