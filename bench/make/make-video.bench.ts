import {
  ApodixError,
  buildColorTable,
  buildPlan,
  createPlainColor,
  Limit,
  planNextSample,
  planSamples,
  readRate,
  writeCube,
  type FitSamples,
  type MediaFacts,
  type PlanInput,
  type SampleSpec,
  type Evidence,
  type TakeSeries,
  type VideoPlan,
} from '@apodix/core';
import {
  bringIn,
  makeAhead,
  makeFile,
  makeFromTake,
  openIntermediate,
  PieceStore,
  sampleTake,
  type WorkingFiles,
} from '@apodix/engine';
import { execa } from 'execa';
import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, mkdtemp, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { availableParallelism, tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Benchmark, Row } from '../benchmark.ts';
import { readCpuSeconds, readStolenSeconds } from '../cpu-time.ts';
import { cases, realLengths, SOUND, sources, type Case, type Source } from './cases.ts';
import { KeptRows } from './kept-rows.ts';
import { watchMemory } from './watch-memory.ts';
import { codeNaive, evenNaive } from '../../tests/test-support/naive.ts';
import { buildRecipe } from '../../tests/test-support/recipes.ts';

interface Timed<T> {
  readonly seconds: number;
  /** Of both cores, by all processes. */
  readonly cpuSeconds: number;
  /** Which share of both cores the host gave to others meanwhile, %. */
  readonly stolenPercent: number;
  readonly result: T;
}

/** What a piece of work took. */
async function time<T>(work: () => Promise<T>): Promise<Timed<T>> {
  const [startedAt, cpuBefore, stolenBefore] = [performance.now(), readCpuSeconds(), readStolenSeconds()];
  const result = await work();
  const seconds = (performance.now() - startedAt) / 1000;
  const stolen = (readStolenSeconds() - stolenBefore) / seconds / availableParallelism();
  return {
    seconds,
    cpuSeconds: readCpuSeconds() - cpuBefore,
    stolenPercent: Math.round(100 * stolen),
    result,
  };
}

/** A source with everything that bringing it in leaves behind. */
interface Brought {
  readonly path: string;
  readonly facts: MediaFacts;
  readonly series: TakeSeries;
  readonly evidence: Evidence;
  readonly working: WorkingFiles;
  /** First samples, taken once for all limits. */
  samples: FitSamples | null;
}

/** Mirrored, so that the coded picture can never be taken over: this is about coding. */
const mirrored = buildRecipe({ isMirrored: true });
const STRAIGHTEN_DEGREES = 4;
const color = { ...createPlainColor(), white: { kelvin: 3200, tint: 0 }, exposure: 0.5 };
const shaped = buildRecipe({
  isMirrored: true,
  picture: { straightenDegrees: STRAIGHTEN_DEGREES, color },
  sound: { gainDb: 3 },
});

/** The same by FFmpeg's filters, as somebody would write them down. */
async function writeNaiveShape(folder: string, widthPx: number, heightPx: number): Promise<string> {
  const path = join(folder, 'naive.cube');
  await writeFile(path, writeCube(buildColorTable(color)));
  const angle = (-STRAIGHTEN_DEGREES * Math.PI) / 180;
  const zoom = Math.cos(angle) + Math.sin(-angle) * (16 / 9);
  const rotate = `rotate=${angle}:ow=trunc(iw/${zoom}/2)*2:oh=trunc(ih/${zoom}/2)*2`;
  return `${rotate},scale=${widthPx}:${heightPx}:flags=bicubic,format=gbrp,lut3d=${path},format=yuv420p,hflip`;
}

async function bringSource(path: string, mostLines: number | null, folder: string): Promise<Brought> {
  const { facts, series, evidence, files } = await bringIn(path, folder, { mostLines });
  return {
    path,
    facts,
    series,
    evidence,
    working: await openIntermediate(files.intermediate),
    samples: null,
  };
}

/** Likeness to the recording: over all frames, and in the second that is least like it. */
interface Likeness {
  readonly mean: number;
  readonly worstSecond: number;
}

/** Both files against the recording as `convert` shapes it, frame by frame (SSIM), decoding it once. */
async function measureLikeness(
  source: { readonly path: string; readonly convert: string },
  paths: readonly [string, string],
  rate: number,
  folder: string,
): Promise<[Likeness, Likeness]> {
  // Counted: time stamps of one file are rounded otherwise than those of the other.
  const count = 'settb=1/1000,setpts=N';
  const graph = [
    `[2:v]${source.convert},${count},split[r0][r1]`,
    ...[0, 1].map((at) => `[${at}:v]${count}[m${at}];[m${at}][r${at}]ssim=stats_file=ssim-${at}.log[o${at}]`),
  ];
  await execa(
    'ffmpeg',
    [
      ...['-v', 'error', '-y', ...[...paths, source.path].flatMap((path) => ['-i', path])],
      ...['-filter_complex', graph.join(';')],
      ...['-map', '[o0]', '-f', 'null', '-', '-map', '[o1]', '-f', 'null', '-'],
    ],
    { cwd: folder },
  );
  const read = async (at: number): Promise<Likeness> => {
    const lines = await readFile(join(folder, `ssim-${at}.log`), 'utf8');
    const each = Array.from(lines.matchAll(/ All:([\d.]+)/g), (match) => Number(match[1]));
    const mean = (values: readonly number[]) =>
      values.reduce((sum, value) => sum + value, 0) / Math.max(1, values.length);
    const second = Math.max(1, Math.round(rate));
    const seconds = Array.from({ length: Math.max(1, Math.floor(each.length / second)) }, (_, index) =>
      mean(each.slice(index * second, (index + 1) * second)),
    );
    return { mean: mean(each), worstSecond: Math.min(...seconds) };
  };
  return [await read(0), await read(1)];
}

/**
 * How far what was told of the end was off, after the first quarter, as a share of the whole time: the most
 * that it was.
 */
function findWorstForecast(
  told: readonly { readonly atS: number; readonly leftS: number }[],
  seconds: number,
): number {
  return Math.max(
    0,
    ...told
      .filter(({ atS }) => atS >= seconds / 4)
      .map(({ atS, leftS }) => Math.abs(atS + leftS - seconds) / seconds),
  );
}

/** How long somebody looks at Shape before the press. */
const LOOKED_MS = 60_000;

/** Waits for work that is ended after a while; whatever else goes wrong is told. */
async function unlessEnded<T>(work: Promise<T>): Promise<T | null> {
  return work.catch((error: unknown) => {
    if (error instanceof ApodixError && error.code === 'CANCELLED') return null;
    throw error;
  });
}

/**
 * Seconds from the press to the proven file, after what the server does while somebody looks at Shape for a
 * minute: a second of it is sampled, then pieces are coded by what it tells.
 */
async function pressAfterAMinute(
  planned: Omit<Parameters<typeof makeFile>[0], 'outputPath' | 'plan'>,
  { input, spec }: { readonly input: PlanInput; readonly spec: SampleSpec | null },
  folder: string,
): Promise<number> {
  const store = new PieceStore(join(folder, 'store'));
  const signal = AbortSignal.timeout(LOOKED_MS);
  let pressedAt = null as number | null;
  signal.addEventListener('abort', () => (pressedAt = performance.now()), { once: true });
  const { facts, series, sourcePath, working } = planned;
  const common = { sourcePath, facts, series, working, recipe: input.recipe, scratchFolder: folder, signal };
  let samples: FitSamples | null = null;
  const onGrown = (grown: FitSamples) => (samples = grown);
  const findNext = (first: FitSamples) => planNextSample({ ...input, samples: first });
  const sampling = { ...common, isFirstLook: true, onGrown, findNext };
  if (spec) samples = (await unlessEnded(sampleTake({ ...sampling, spec }))) ?? samples;
  const plan = buildPlan({ ...input, samples }).plan as VideoPlan;
  await unlessEnded(makeAhead({ ...planned, plan, store, scratchFolder: folder, enough: signal }));
  // Pieces that are under way at the press are finished first.
  const beganAt = pressedAt ?? performance.now();
  await makeFile({ ...planned, plan, store, outputPath: join(folder, 'pressed.mp4') });
  return (performance.now() - beganAt) / 1000;
}

async function runCase(each: Case, source: Source, brought: Brought, folder: string): Promise<Row> {
  const { path, facts, working } = brought;
  const recipe = each.isShaped ? shaped : mirrored;
  const maxBytes = Math.round((each.limitBps * source.seconds) / 8);
  const limits = [
    Limit.parse({ id: 'size', kind: 'file-size', maxBytes }),
    Limit.parse({ id: 'format', kind: 'format', wanted: ['mp4'] }),
    ...(each.lines === null
      ? []
      : [Limit.parse({ id: 'lines', kind: 'picture-edge', edge: 'lines', max: each.lines })]),
  ];
  const judge = { limits, nameContext: null };
  await mkdir(folder, { recursive: true });
  const { series, evidence } = brought;
  const known: PlanInput = { facts, recipe, limits, series, takeName: 'source.mp4', nameContext: null };
  const spec = planSamples(facts, series, recipe, limits);
  const prepare = async () => {
    const findNext = (first: FitSamples) => {
      brought.samples = first;
      return planNextSample({ ...known, samples: first });
    };
    const own = { sourcePath: path, facts, series, recipe, working, scratchFolder: folder };
    const samples = spec ? await sampleTake({ ...own, spec, known: brought.samples, findNext }) : null;
    return { series, evidence, plan: buildPlan({ ...known, samples }).plan as VideoPlan };
  };
  const cold = await time(async () => {
    return makeFromTake({ path, limits, recipe, outputFolder: join(folder, 'cold') });
  });
  const ready = await prepare();
  const told: { readonly atS: number; readonly leftS: number }[] = [];
  const beganAt = performance.now();
  const planned = { sourcePath: path, facts, ...ready, judge, working };
  const memory = watchMemory();
  const warm = await time(() =>
    makeFile({
      ...planned,
      outputPath: join(folder, 'warm.mp4'),
      onProgress: ({ secondsLeft }) =>
        secondsLeft !== null && told.push({ atS: (performance.now() - beganAt) / 1000, leftS: secondsLeft }),
    }),
  );
  const mostBytes = memory.stop();
  const made = warm.result;
  const pressed = await pressAfterAMinute(planned, { input: known, spec }, folder);
  const { widthPx, heightPx, frameRate } = ready.plan.cut;
  const isHdr = facts.video?.hdr !== null;
  const plain = `${isHdr ? `zscale=w=${widthPx}:h=${heightPx}:f=bicubic,zscale=t=linear:npl=203,format=gbrpf32le,zscale=p=bt709,tonemap=hable:desat=0,zscale=t=bt709:m=bt709:r=tv,format=yuv420p` : `scale=${widthPx}:${heightPx}:flags=bicubic`},hflip`;
  const convert = each.isShaped ? await writeNaiveShape(folder, widthPx, heightPx) : plain;
  const soundBps = ready.plan.sound?.bitrateBps ?? 0;
  const ownRate = facts.video ? readRate(facts.video.frameRate) : readRate(frameRate);
  const divisor = Math.max(1, Math.round(ownRate / readRate(frameRate)));
  // The same frames for all, where some are left out.
  const picked = divisor === 1 ? convert : `framestep=${divisor},${convert}`;
  const byHand = {
    ...{ path, filters: picked, soundBps, seconds: source.seconds, bytes: made.facts.sizeBytes, folder },
    outputPath: join(folder, 'naive.mp4'),
  };
  const naive = await time(() => codeNaive(byHand));
  const naiveBytes = await evenNaive(byHand);
  const [own, other] = await measureLikeness(
    { path, convert: picked },
    [made.path, byHand.outputPath],
    readRate(frameRate),
    folder,
  );
  // Straightened by other filters it lies a little elsewhere: each is held against its own shape.
  const ownMean = each.isShaped ? (made.comparison.picture?.ssimMean ?? 0) : own.mean;
  const predicted = ready.plan.prediction.ownSsim;
  const round = (value: number, digits: number) => Number(value.toFixed(digits));
  return {
    measured: new Date().toISOString().slice(0, 16),
    case: `${source.name}, ${(maxBytes / 1e6).toFixed(1)} MB${each.isShaped ? ', shaped' : ''}`,
    made: `${widthPx}×${heightPx}`,
    'size of limit, %': round((100 * made.facts.sizeBytes) / maxBytes, 1),
    'naive, s': round(naive.seconds, 1),
    'warm, s': round(warm.seconds, 1),
    'cold / naive': round(cold.seconds / naive.seconds, 2),
    'warm / naive': round(warm.seconds / naive.seconds, 2),
    'pressed / naive': round(pressed / naive.seconds, 2),
    'memory, MB': round(mostBytes / 1e6, 0),
    'cold, CPU': round(cold.cpuSeconds / naive.cpuSeconds, 2),
    'warm, CPU': round(warm.cpuSeconds / naive.cpuSeconds, 2),
    'stolen of cold, warm, naive, %': [cold, warm, naive].map((each) => each.stolenPercent).join(', '),
    'time told, worst %': round(100 * findWorstForecast(told, warm.seconds), 0),
    SSIM: round(ownMean, 4),
    'SSIM − naive': round(ownMean - other.mean, 4),
    'worst second': each.isShaped ? 'none' : round(own.worstSecond, 4),
    'worst second − naive': each.isShaped ? 'none' : round(own.worstSecond - other.worstSecond, 4),
    'naive bytes, %': round((100 * naiveBytes) / made.facts.sizeBytes, 1),
    'bytes / predicted, %': round((100 * made.facts.sizeBytes) / ready.plan.prediction.bytes, 1),
    'clarity − predicted':
      predicted === null ? 'none' : round((made.comparison.picture?.ssimMean ?? 0) - predicted, 4),
  };
}

/** Where sources stay from run to run, as those of real lengths take minutes to make; none do without it. */
const keptFolder = process.env['APODIX_BENCH_SOURCES'];
/** Where rows stay, so that a long table can be gone on with after a stop; none do without it. */
const rowsFolder = process.env['APODIX_BENCH_ROWS'];

/** The file of a source, found by the command that makes it, or made by that. */
async function openSource(source: Source, folder: string): Promise<string> {
  const sound = realLengths.includes(source.id) ? ['-f', 'lavfi', '-i', SOUND, '-c:a', 'aac'] : [];
  const length = ['-t', String(source.seconds)];
  const args = ['-f', 'lavfi', '-i', source.filter, ...sound, ...length, ...source.codec];
  const key = createHash('sha256').update(JSON.stringify(args)).digest('hex').slice(0, 12);
  const path = join(folder, `${source.id}-${key}.mp4`);
  if (existsSync(path)) return path;
  await mkdir(folder, { recursive: true });
  await execa('ffmpeg', ['-v', 'error', '-y', ...args, '-f', 'mp4', `${path}.part`]);
  await rename(`${path}.part`, path);
  return path;
}

/**
 * Making a video against the naive way: FFmpeg, two passes of x264 `medium` at the same size and bytes, no
 * proof.
 */
export const makeVideoBenchmark: Benchmark = {
  name: 'make-video',
  isShort: true,
  run: async (isLong, tell, only) => {
    const rows: Row[] = [];
    const kept = rowsFolder === undefined ? null : await KeptRows.open(rowsFolder);
    for (const each of sources.filter(({ id }) => only?.includes(id) ?? !realLengths.includes(id))) {
      const source = isLong ? each : { ...each, seconds: each.shortSeconds ?? each.seconds };
      const own = cases.filter((one) => one.source === source.id && (isLong || one.isShort));
      if (own.length === 0) continue;
      const folder = await mkdtemp(join(tmpdir(), 'apodix-bench-'));
      try {
        const path = await openSource(source, keptFolder ?? folder);
        const brought = new Map<number | null, Brought>();
        for (const [index, each] of own.entries()) {
          const before = await kept?.find([source, each]);
          if (before) {
            rows.push(before);
            tell(before);
            continue;
          }
          const known =
            brought.get(each.lines) ??
            (await bringSource(path, each.lines, join(folder, `working-${each.lines}`)));
          brought.set(each.lines, known);
          const row = await runCase(each, source, known, join(folder, `case-${index}`));
          await kept?.keep([source, each], row);
          rows.push(row);
          tell(row);
          await rm(join(folder, `case-${index}`), { recursive: true, force: true });
        }
      } finally {
        await rm(folder, { recursive: true, force: true });
      }
    }
    return {
      tables: [
        {
          title:
            'Making against naive two-pass (baseline: FFmpeg, x264 medium, same size and bytes, no proof)',
          rows,
        },
      ],
    };
  },
};
