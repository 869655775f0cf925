import {
  ApodixError,
  countGroupFrames,
  estimateOtherBytes,
  measureFramesUs,
  readRate,
  suggestNextRate,
  type RateTry,
  type VideoPlan,
} from '@apodix/core';
import { rename, rm, stat } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { BT709_TAGS } from '../picture/picture-filters.ts';
import { throwIfCancelled } from '../process/fail.ts';
import { readFfmpegProgress } from '../process/progress.ts';
import { STRICT_ARGS } from '../process/quiet-args.ts';
import { runTool } from '../process/run-tool.ts';
import { writeGraph } from '../graph/filter-graph.ts';
import {
  branchWitnesses,
  buildWitnessArgs,
  chooseWitnessStep,
  type WitnessPattern,
  type Witnesses,
} from '../likeness/witnesses.ts';
import { buildCoderArgs, readTimescale } from './code-piece.ts';
import { buildPictureCut, CUT_PAD, writeCutFiles } from './cut-picture.ts';
import { buildSoundCut, measureSamples } from './cut-sound.ts';
import { findProvingShare, type MakeVideoInput } from './make-video-input.ts';
import { buildSoundCoderArgs } from './sound-args.ts';
import type { PictureSource } from './working-files.ts';

/**
 * Codes in two passes; then only the second again with a corrected rate until the file stands close below its
 * limit. Gives the path of the best try that does not exceed the limit; throws `LIMITS_CANNOT_BE_MET` where
 * there is none.
 */
export async function makeInTwoPasses(
  input: MakeVideoInput,
  picture: PictureSource,
): Promise<{ path: string; witnesses: Witnesses }> {
  const { plan, folder, meter } = input;
  const durationUs = measureFramesUs(plan.cut);
  const otherBytes = estimateOtherBytes(plan.cut.frameCount, durationUs, plan.sound);
  const logFile = join(folder, 'statistics');
  const tries: RateTry[] = [];
  const bestPath = join(folder, `best.${plan.container}`);
  const every = chooseWitnessStep(
    plan.cut.frameRate.numerator / plan.cut.frameRate.denominator,
    durationUs / 1e6,
  );
  const pattern = { every, first: 0, surely: plan.cut.frameCount - 1 };
  const witness = { path: join(folder, 'witness-0.mkv'), pattern };
  let bestBytes = 0;

  const provingFrom = findProvingShare(plan.cut);
  meter.begin('Weighing every frame', 0, FIRST_SHARE[plan.rate.videoCodec]);
  await runPass(input, {
    pass: 1,
    videoBps: plan.rate.videoBps,
    logFile,
    outputPath: null,
    picture,
    witness: null,
  });
  let videoBps: number | null = plan.rate.videoBps;
  while (videoBps !== null) {
    throwIfCancelled(input.signal);
    const tryPath = join(folder, `try-${tries.length}.${plan.container}`);
    if (tries.length === 0) meter.begin('Making the file', FIRST_SHARE[plan.rate.videoCodec], provingFrom);
    else meter.begin('Making it fit more closely', provingFrom - 0.2, provingFrom);
    await runPass(input, {
      pass: 2,
      videoBps,
      logFile,
      outputPath: tryPath,
      picture,
      witness: tries.length === 0 ? witness : null,
    });
    const sizeBytes = (await stat(tryPath)).size;
    tries.push({ videoBps, sizeBytes });
    if ((plan.rate.maxBytes === null || sizeBytes <= plan.rate.maxBytes) && sizeBytes > bestBytes) {
      await rename(tryPath, bestPath);
      bestBytes = sizeBytes;
    } else await rm(tryPath, { force: true });
    videoBps =
      plan.rate.maxBytes === null
        ? null
        : suggestNextRate(tries, plan.rate.maxBytes, otherBytes, plan.rate.usefulBps);
  }
  if (bestBytes === 0)
    throw new ApodixError('LIMITS_CANNOT_BE_MET', {
      detail: `The smallest try had ${Math.min(...tries.map((each) => each.sizeBytes))} bytes.`,
    });
  return {
    path: bestPath,
    witnesses: { files: [{ ...witness, first: 0, last: plan.cut.frameCount }] },
  };
}

interface Pass {
  readonly pass: 1 | 2;
  readonly videoBps: number;
  readonly logFile: string;
  readonly outputPath: string | null;
  readonly picture: PictureSource;
  /** Frames that are kept without loss for the proof. */
  readonly witness: { readonly path: string; readonly pattern: WitnessPattern } | null;
}

async function runPass(input: MakeVideoInput, pass: Pass): Promise<void> {
  const { plan, frames } = input;
  const { witness } = pass;
  const isLast = pass.outputPath !== null;
  const { timeline } = input;
  const made = buildPictureCut({ picture: pass.picture, take: input, cut: plan.cut, timeline, frames });
  await writeCutFiles(made, input.folder);
  const sound =
    isLast && plan.sound
      ? buildSoundCut({
          take: input,
          separate: input.separate ?? null,
          timeline,
          sound: plan.sound,
          wish: plan.cut.recipe.sound,
          sampleCount: measureSamples(plan.cut, plan.sound),
          firstInput: made.inputCount,
        })
      : null;
  const last = witness
    ? branchWitnesses(CUT_PAD, 'v', witness.pattern)
    : [{ from: [CUT_PAD], filters: isLast ? [] : weighSmaller(plan), to: ['v'] }];
  const durationUs = measureFramesUs(plan.cut);
  await runTool({
    fault: 'MAKE_FAILED',
    tool: 'ffmpeg',
    args: [
      ...STRICT_ARGS,
      '-progress',
      'pipe:1',
      ...made.input,
      ...(sound?.input ?? []),
      '-filter_complex',
      writeGraph([...made.chains, ...last, ...(sound?.chains ?? [])]),
      '-map',
      '[v]',
      ...coders[plan.rate.videoCodec](plan, pass),
      ...(isLast && plan.sound ? ['-map', '[sound]', ...buildSoundCoderArgs(plan.sound)] : []),
      '-map_metadata',
      '-1',
      '-map_chapters',
      '-1',
      '-fflags',
      '+bitexact',
      '-flags:v',
      '+bitexact+cgop',
      '-flags:a',
      '+bitexact',
      ...(isLast
        ? [
            ...(plan.container === 'webm'
              ? []
              : ['-movflags', '+faststart', '-video_track_timescale', String(readTimescale(plan.cut))]),
            '-f',
            plan.container,
            '-y',
            pass.outputPath ?? '',
          ]
        : ['-an', '-f', 'null', '-']),
      ...(witness ? buildWitnessArgs(witness.path) : []),
    ],
    limits: { seconds: 1800 + durationUs / 20_000 },
    cwd: input.folder,
    ...(input.signal ? { signal: input.signal } : {}),
    onStdoutLine: readFfmpegProgress(durationUs, (share) => input.meter.tell(share)),
  });
}

/**
 * From so many lines on the first pass sees the picture at half its size: x264 takes what it learned over to
 * the full one.
 */
const WEIGHED_SMALLER_LINES = 900;

function weighSmaller(plan: VideoPlan): string[] {
  const { widthPx, heightPx } = plan.cut;
  const isLarge = Math.min(widthPx, heightPx) >= WEIGHED_SMALLER_LINES;
  if (plan.rate.videoCodec !== 'h264' || !isLarge) return [];
  const half = (edge: number) => Math.round(edge / 4) * 2;
  return [`scale=${half(widthPx)}:${half(heightPx)}:flags=fast_bilinear`];
}

/** What the first pass takes of the whole time. */
const FIRST_SHARE: Readonly<Record<VideoPlan['rate']['videoCodec'], number>> = {
  h264: 0.34,
  hevc: 0.3,
  vp9: 0.2,
};

/** One row a coding: closed groups of two seconds at most, BT.709, at the wanted rate. */
const coders: Readonly<Record<VideoPlan['rate']['videoCodec'], (plan: VideoPlan, pass: Pass) => string[]>> = {
  h264: (plan, pass) => [
    ...buildCoderArgs(plan.cut, pass.pass === 1 ? 'first' : 'second'),
    '-b:v',
    String(pass.videoBps),
    '-qmin',
    String(Math.max(1, Math.round(plan.rate.leastCrf) - FINER)),
    '-pass',
    String(pass.pass),
    '-passlogfile',
    pass.logFile,
  ],
  hevc: (plan, pass) => [
    '-c:v',
    'libx265',
    '-preset',
    'fast',
    '-b:v',
    String(pass.videoBps),
    '-tag:v',
    'hvc1',
    '-pix_fmt',
    'yuv420p',
    ...buildCommonArgs(plan),
    '-x265-params',
    `log-level=error:open-gop=0:keyint=${countGroupFrames(readRate(plan.cut.frameRate))}:pools=2:frame-threads=1:pass=${pass.pass}:stats=${basename(pass.logFile)}`,
  ],
  vp9: (plan, pass) => [
    '-c:v',
    'libvpx-vp9',
    '-deadline',
    'good',
    '-cpu-used',
    pass.pass === 1 ? '4' : '2',
    '-row-mt',
    '1',
    '-tile-columns',
    '1',
    '-threads',
    '2',
    '-b:v',
    String(pass.videoBps),
    ...buildCommonArgs(plan),
    '-pass',
    String(pass.pass),
    '-passlogfile',
    pass.logFile,
  ],
};

/** So much finer than the rate factor that is of no use any more may single frames become. */
const FINER = 4;

function buildCommonArgs(plan: VideoPlan): string[] {
  return [
    '-g',
    String(countGroupFrames(readRate(plan.cut.frameRate))),
    ...BT709_TAGS,
    '-r',
    `${plan.cut.frameRate.numerator}/${plan.cut.frameRate.denominator}`,
  ];
}
