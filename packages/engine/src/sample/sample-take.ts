import {
  buildTakeTimeline,
  fitSizeInside,
  keepRange,
  listOpenWindows,
  frameSize,
  isBeyondSamples,
  shareKeyframe,
  unframeSize,
  type FitPoint,
  type FitSamples,
  type MediaFacts,
  type Rational,
  type Recipe,
  type SampleSpec,
  type SampleWindow,
  type SampleWay,
  type SizePx,
  type TakeSeries,
  type Timeline,
  type VideoCut,
} from '@apodix/core';
import { join } from 'node:path';
import { writeColorTable } from '../picture/color-filters.ts';
import { BT709_TAGS } from '../picture/picture-filters.ts';
import { readSampleSizes } from '../inspect/box-order.ts';
import { buildPieceCoderArgs } from '../make/code-piece.ts';
import { splitPicture, writeGraph, type Chain } from '../graph/filter-graph.ts';
import { buildPictureCut, CUT_PAD } from '../make/cut-picture.ts';
import { choosePicture, listSeekable, type PictureSource, type WorkingFiles } from '../make/working-files.ts';
import { throwIfCancelled } from '../process/fail.ts';
import { ProgressMeter, type OnProgress } from '../process/progress.ts';
import { STRICT_ARGS } from '../process/quiet-args.ts';
import { runTool } from '../process/run-tool.ts';
import { withTemporaryFolder } from '../process/temporary-folder.ts';
import { writeKeptFrames } from '../likeness/kept-frames.ts';
import { buildWitnessArgs } from '../likeness/witnesses.ts';
import { COMPARED_EVERY, compareWindow, type Way } from './compare-window.ts';

export interface SampleInput {
  readonly sourcePath: string;
  readonly facts: MediaFacts;
  readonly series: TakeSeries;
  readonly recipe: Recipe;
  readonly spec: SampleSpec;
  readonly working?: WorkingFiles | undefined;
  readonly scratchFolder: string;
  /**
   * Samples that were taken before in the same ways: only what they do not tell is sampled.
   */
  readonly known?: FitSamples | null;
  /**
   * What is known after each window but the last, so that nothing of it is lost; before that, where nothing
   * is known, what a part of the first tells at every other size.
   */
  readonly onGrown?: (samples: FitSamples) => void;
  /**
   * Ends with a part of the first window, in every way and as far as the plan goes, unless that is known
   * already; the rest is left open, and begins anew. A take that has one window alone is sampled whole.
   */
  readonly isFirstLook?: boolean;
  /** One more way to sample, by what is known so far; none without it. */
  readonly findNext?: (samples: FitSamples) => SampleWay | null;
  readonly signal?: AbortSignal;
  readonly onProgress?: OnProgress;
}

/**
 * Codes short windows of a take in every way that is to be known, and measures bytes and likeness (SSIM) to
 * the take at the size of the reference. Throws where a tool fails; nothing of the coded windows is kept.
 */
export async function sampleTake(input: SampleInput): Promise<FitSamples> {
  const { spec, facts } = input;
  const { video } = facts;
  if (!video) throw new TypeError('A take with a picture was expected.');
  const upright = frameSize(video, input.recipe.picture);
  const sizeOf = (lines: number) => fitSizeInside(upright, { shortEdgePx: lines }, 2);
  const size = (way: SampleWay): Way => ({ ...way, size: sizeOf(way.lines) });
  const ways = spec.lines.flatMap((lines) =>
    spec.rateDivisors.flatMap((rateDivisor) => spec.crfs.map((crf) => size({ lines, rateDivisor, crf }))),
  );
  const reference = sizeOf(spec.lines[0] ?? 1080);
  const whole = unframeSize(reference, video, input.recipe.picture);
  const picture = choosePicture({ path: input.sourcePath, facts }, whole, input.working);
  const meter = new ProgressMeter(input.onProgress);
  const isOfAll = (samples: FitSamples) => samples.key === spec.key && samples.points.length >= ways.length;
  const isShort = ({ durationUs }: SampleWindow) => durationUs <= ROUGH_US;
  const isGlance = ({ windows }: FitSamples) => windows.every(isShort) && !spec.windows.every(isShort);
  const before = input.known && isOfAll(input.known) ? input.known : null;
  const known = before && !isGlance(before) ? before : null;
  const open = listOpenWindows(spec, known);
  const describeWindow = (window: SampleWindow) => ({
    key: spec.key,
    codec: spec.codec,
    referenceLines: spec.lines[0] ?? 1080,
    frameRate: video.frameRate,
    windows: [{ ...window }],
    wanted: open.length + (known?.windows.length ?? 0),
  });
  const tryWays = (own: readonly Way[], windows: SampleSpec['windows'], onShare?: (share: number) => void) =>
    sampleWays(input, { picture, reference, ways: own, windows }, onShare);
  const sampleMore = async (so: FitSamples, more: readonly SampleWay[]): Promise<FitSamples> => {
    const { points } = await tryWays(more.map(size), so.windows, (share) => meter.tell(share));
    return { ...so, points: [...so.points, ...points] };
  };
  const [first] = open;
  const isLookWanted = input.isFirstLook === true && !before;
  const isTold = input.onGrown !== undefined && input.known?.key !== spec.key;
  const firstShare = input.findNext ? FIRST_SHARE : 1;
  meter.begin('Trying sizes on short samples', 0, firstShare);
  if (!known && first && open.length > 1 && (isTold || isLookWanted)) {
    const window = { ...first, durationUs: Math.min(first.durationUs, measureRoughUs(video.frameRate)) };
    const [some, rest] = pickRough(ways, spec);
    const rough = addWindow(null, await tryWays(some, [window]), describeWindow(window));
    input.onGrown?.(rough);
    if (isLookWanted) {
      const glance = await sampleMore(rough, rest);
      meter.begin('Trying the size that fits', firstShare, 1);
      return reachPlan(glance, input.findNext, sampleMore);
    }
  }
  let samples = known;
  for (const [index, window] of open.entries()) {
    const tried = await tryWays(ways, [window], (share) => meter.tell((index + share) / open.length));
    samples = addWindow(samples, tried, describeWindow(window));
    if (index + 1 < open.length) input.onGrown?.(samples);
  }
  if (!samples) throw new TypeError('A window to sample was expected.');
  // What was cut in the meantime may leave fewer windows than there were to be.
  samples = { ...samples, wanted: samples.windows.length };
  const next = input.findNext?.(samples) ?? null;
  if (next === null) return samples;
  meter.begin('Trying the size that fits', firstShare, 1);
  return sampleMore(samples, [next]);
}

/** Ways that may be tried beyond what was sampled, before it is left at that. */
const MOST_REACHED = 2;

/**
 * Less than a window, but as far as the plan goes: what lies beyond the samples is tried, so that what is
 * begun by them is not begun at a size that does not fit.
 */
async function reachPlan(
  samples: FitSamples,
  findNext: SampleInput['findNext'],
  sampleMore: (samples: FitSamples, ways: readonly SampleWay[]) => Promise<FitSamples>,
): Promise<FitSamples> {
  let reached = samples;
  for (let round = 0; round < MOST_REACHED; round += 1) {
    const next = findNext?.(reached) ?? null;
    if (next === null || !isBeyondSamples(next, reached)) break;
    reached = await sampleMore(reached, [next]);
  }
  return reached;
}

/** What is tried first of all is no longer, so that there is something to go by within seconds. */
const ROUGH_US = 1_000_000;
const ROUGH_FRAMES = 30;

const measureRoughUs = ({ numerator, denominator }: Rational) =>
  Math.min(ROUGH_US, Math.round((ROUGH_FRAMES * denominator * 1e6) / numerator));

/** Every other size with all its frames, finest and coarsest, and the rest. */
function pickRough(
  ways: readonly Way[],
  { lines, rateDivisors, crfs }: SampleSpec,
): readonly [readonly Way[], readonly Way[]] {
  const isRough = (way: Way) =>
    lines.indexOf(way.lines) % 2 === 0 &&
    way.rateDivisor === rateDivisors[0] &&
    [crfs[0], crfs.at(-1)].includes(way.crf);
  return [ways.filter(isRough), ways.filter((way) => !isRough(way))];
}

/** What one more window told, added to what is known. */
function addWindow(
  samples: FitSamples | null,
  { points, seconds, megapixels }: Tried,
  own: Omit<FitSamples, 'points' | 'secondsPerMegapixel'>,
): FitSamples {
  const secondsPerMegapixel = Math.max(1e-5, seconds / Math.max(1e-6, megapixels));
  if (!samples) return { ...own, points, secondsPerMegapixel };
  const before = samples.windows.length;
  return {
    ...samples,
    windows: [...samples.windows, ...own.windows],
    points: samples.points.map((point, way) => ({
      ...point,
      bytes: [...point.bytes, ...(points[way]?.bytes ?? [])],
      ssim: [...point.ssim, ...(points[way]?.ssim ?? [])],
      ownSsim: [...point.ownSsim, ...(points[way]?.ownSsim ?? [])],
    })),
    secondsPerMegapixel: (samples.secondsPerMegapixel * before + secondsPerMegapixel) / (before + 1),
  };
}

/** What the first round of samples takes of the time. */
const FIRST_SHARE = 0.85;

interface WaysInput {
  readonly picture: PictureSource;
  readonly reference: SizePx;
  readonly ways: readonly Way[];
  readonly windows: SampleSpec['windows'];
}

interface Tried {
  readonly points: FitPoint[];
  readonly seconds: number;
  readonly megapixels: number;
}

/** Codes windows in every way and compares them with the take. */
async function sampleWays(
  input: SampleInput,
  { picture, reference, ways, windows }: WaysInput,
  onShare: (share: number) => void = () => undefined,
): Promise<Tried> {
  const points = ways.map(({ lines, rateDivisor, crf }): FitPoint => ({
    lines,
    rateDivisor,
    crf,
    bytes: [],
    ssim: [],
    ownSsim: [],
  }));
  let [seconds, megapixels] = [0, 0];
  await withTemporaryFolder(input.scratchFolder, async (folder) => {
    await writeColorTable(input.recipe.picture.color, folder);
    for (const [index, window] of windows.entries()) {
      throwIfCancelled(input.signal);
      const coded = await codeWindow(input, picture, reference, ways, window, folder);
      seconds += coded.seconds;
      megapixels += coded.megapixels;
      onShare((index + 0.6) / windows.length);
      const likeness = await compareWindow({
        ...{ rate: coded.rate, reference, ways, frameCount: coded.frameCount, folder },
        ...(input.signal ? { signal: input.signal } : {}),
      });
      for (const [way, point] of points.entries()) {
        point.bytes.push(coded.bytes[way] ?? 1);
        point.ssim.push(likeness.atReference[way] ?? 0);
        point.ownSsim.push(likeness.atOwnSize[way] ?? 0);
      }
      onShare((index + 1) / windows.length);
    }
  });
  return { points, seconds, megapixels };
}

interface CodingOfWindow {
  readonly bytes: readonly number[];
  readonly rate: Rational;
  readonly frameCount: number;
  readonly seconds: number;
  readonly megapixels: number;
}

/**
 * One decoding of a window, coded in all ways at once, and about one frame in five of it kept without loss.
 */
async function codeWindow(
  input: SampleInput,
  picture: PictureSource,
  reference: SizePx,
  ways: readonly Way[],
  window: { startUs: number; durationUs: number },
  folder: string,
): Promise<CodingOfWindow> {
  const { facts, series, recipe, spec } = input;
  const { cut, timeline } = buildWindowCut(input, reference, window);
  const { frameCount, frameRate: rate } = cut;
  const frames = series.frames ?? { timesUs: [], endUs: 0 };
  const take = { path: input.sourcePath, facts };
  const keyframesUs = listSeekable({ facts, series }, picture);
  const made = buildPictureCut({ picture, take, cut, timeline, frames, keyframesUs });
  const groups = [...new Map(ways.map((way) => [`${way.lines}/${way.rateDivisor}`, way])).values()];
  const isReferenceSize = (size: SizePx) =>
    size.widthPx === reference.widthPx && size.heightPx === reference.heightPx;
  const chains: Chain[] = [
    ...made.chains,
    splitPicture(CUT_PAD, ['w', ...groups.map((_, index) => `g${index}`)]),
    { from: ['w'], filters: [`select='${writeKeptFrames(COMPARED_EVERY)}'`], to: ['kept'] },
    ...groups.map((group, index) => {
      const { widthPx, heightPx } = group.size;
      const own = ways.filter((way) => way.lines === group.lines && way.rateDivisor === group.rateDivisor);
      return splitPicture(
        `g${index}`,
        own.map((way) => `o${ways.indexOf(way)}`),
        [
          ...(isReferenceSize(group.size) ? [] : [`scale=${widthPx}:${heightPx}:flags=bicubic+accurate_rnd`]),
          ...(group.rateDivisor === 2 ? ['framestep=2'] : []),
        ],
      );
    }),
  ];
  const outputs = ways.flatMap((way, index) => [
    '-map',
    `[o${index}]`,
    ...buildWayArgs(spec.codec, way, rate),
    '-an',
    '-f',
    'mp4',
    '-y',
    join(folder, `way-${index}.mp4`),
  ]);
  const startedAt = performance.now();
  await runTool({
    fault: 'MAKE_FAILED',
    tool: 'ffmpeg',
    args: [
      ...STRICT_ARGS,
      ...made.input,
      '-filter_complex',
      writeGraph(chains),
      ...outputs,
      ...buildWitnessArgs(join(folder, 'kept.mkv')),
    ],
    limits: { seconds: 1200, memoryBytes: recipe.picture.turnDegrees === 0 ? 8_000_000_000 : 9_000_000_000 },
    cwd: folder,
    ...(input.signal ? { signal: input.signal } : {}),
  });
  const wholeUs =
    spec.windows.find(({ startUs }) => startUs === window.startUs)?.durationUs ?? window.durationUs;
  const bytes = await Promise.all(
    ways.map(async (_, index) => {
      const frameBytes = await readSampleSizes(join(folder, `way-${index}.mp4`));
      return Math.max(1, shareKeyframe(frameBytes, window.durationUs, wholeUs));
    }),
  );
  return {
    bytes,
    rate,
    frameCount,
    seconds: (performance.now() - startedAt) / 1000,
    megapixels: ways.reduce(
      (sum, way) => sum + (way.size.widthPx * way.size.heightPx * frameCount) / way.rateDivisor / 1e6,
      0,
    ),
  };
}

/** Ways of one window are coded one after the other: what a coder makes is the same from several threads. */
const THREADS_OF_WAY = 3;

function buildWayArgs(
  codec: SampleSpec['codec'],
  way: Way,
  rate: { numerator: number; denominator: number },
): string[] {
  const frameRate = { numerator: rate.numerator, denominator: rate.denominator * way.rateDivisor };
  if (codec === 'vp9')
    return [
      '-c:v',
      'libvpx-vp9',
      '-deadline',
      'good',
      '-cpu-used',
      '4',
      '-row-mt',
      '1',
      '-threads',
      '2',
      '-b:v',
      '0',
      '-crf',
      String(way.crf),
      ...BT709_TAGS,
    ];
  return buildPieceCoderArgs({ frameRate, ...way.size }, way.crf, THREADS_OF_WAY);
}

/** The cut of just one window at the size of the reference. */
function buildWindowCut(
  input: SampleInput,
  reference: SizePx,
  window: { startUs: number; durationUs: number },
): { cut: VideoCut; timeline: Timeline } {
  const { facts, series, recipe } = input;
  const { video } = facts;
  if (!video) throw new TypeError('A take with a picture was expected.');
  const range = { startUs: window.startUs, finishUs: window.startUs + window.durationUs };
  const own = keepRange(recipe, range);
  const timeline = buildTakeTimeline(facts, series, own, video.frameRate);
  const cut: VideoCut = {
    recipe: own,
    ...reference,
    frameRate: video.frameRate,
    frameCount: timeline.frameCount,
    durationUs: timeline.durationUs,
    toneMapFrom: video.hdr,
    isDeinterlaced: video.interlace !== 'progressive',
  };
  return { cut, timeline };
}
