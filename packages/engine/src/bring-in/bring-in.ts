import {
  findMediaKind,
  type KnownEarly,
  type MediaFacts,
  type SizePx,
  type TakeAnalysis,
} from '@apodix/core';
import { existsSync } from 'node:fs';
import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { inspectTimed, type BuildOutput } from '../inspect/inspect-timed.ts';
import type { DecodeOutput } from '../inspect/measure-decode.ts';
import { sniffFile } from '../inspect/sniff-file.ts';
import { PhotoInspected } from '../photo/photo-request.ts';
import { runPhotoChild } from '../photo/run-photo-child.ts';
import { hashFile } from '../process/hash-file.ts';
import { ProgressMeter, type OnProgress } from '../process/progress.ts';
import { withTemporaryFolder } from '../process/temporary-folder.ts';
import { BT709_TAGS, buildPictureFilters } from './picture-filters.ts';
import { chooseIntermediateCrf, LONGEST_COPIED_US, planIntermediate } from '../make/working-files.ts';
import { buildComplexityOutput, readComplexity } from './complexity.ts';
import { measureProxy } from './measure-proxy.ts';
import { PEAK_RATE_HZ, readPeaks } from './peaks.ts';

export interface BroughtIn {
  readonly facts: MediaFacts;
  readonly analysis: TakeAnalysis;
  /** Files made on the side, by role; absent where the medium has none. */
  readonly files: {
    readonly intermediate?: string;
    readonly proxy?: string;
    readonly strip?: string;
    readonly poster?: string;
  };
}

export interface BringInOptions {
  readonly signal?: AbortSignal;
  readonly onProgress?: OnProgress;
  /** Most lines that the assignment allows: an intermediate has no more. */
  readonly mostLines?: number | null;
}

const STRIP_TILES = 40;
const STRIP_TILE_HEIGHT = 72;
const PREVIEW_LONG_EDGE = 2048;
const POSTER_LONG_EDGE = 480;

/**
 * Judges and measures a file that has just come in and makes what is needed to work on it: for video an editing proxy,
 * a filmstrip and sound peaks in the same single decode pass; for photographs an upright sRGB preview.
 * Files are written into `folder`, which is made where it is missing. Throws an `ApodixError` where the file is refused.
 */
export async function bringIn(
  path: string,
  folder: string,
  options: BringInOptions = {},
): Promise<BroughtIn> {
  await mkdir(folder, { recursive: true });
  const meter = new ProgressMeter(options.onProgress);
  meter.begin('Looking at the file', 0, 0.05);
  const { container, sizeBytes } = await sniffFile(path);
  if (findMediaKind(container) === 'photo')
    return bringInPhoto(path, folder, container, sizeBytes, meter, options.signal);
  meter.begin('Measuring every frame', 0.05, 1);
  const names = {
    intermediate: join(folder, 'intermediate.mp4'),
    proxy: join(folder, 'proxy.mp4'),
    strip: join(folder, 'strip.jpg'),
    poster: join(folder, 'poster.jpg'),
    peaks: join(folder, 'peaks.pcm'),
  };
  const { facts, frames, keyframesUs } = await inspectTimed(path, container, sizeBytes, {
    ...(options.signal ? { signal: options.signal } : {}),
    onShare: (share) => meter.tell(share),
    buildOutput: (known) => buildWorkingFiles(known, names, options.mostLines ?? null),
  });
  const stripSize = facts.video ? measureTile(facts.video) : null;
  return {
    facts,
    analysis: {
      frameTimesUs: frames ? [...frames.timesUs] : [],
      frameEndUs: frames?.endUs ?? facts.durationUs ?? 0,
      peaks: facts.sound ? await readPeaks(names.peaks) : null,
      filmstrip: stripSize
        ? { tileWidthPx: stripSize.widthPx, tileHeightPx: stripSize.heightPx, tileCount: STRIP_TILES }
        : null,
      complexity: facts.video ? await readComplexity(names.proxy, options.signal) : null,
      keyframesUs: [...keyframesUs],
    },
    files: {
      proxy: names.proxy,
      ...nameIntermediate(facts, names.intermediate),
      ...(existsSync(names.strip) ? { strip: names.strip } : {}),
      ...(existsSync(names.poster) ? { poster: names.poster } : {}),
    },
  };
}

export interface InspectMediaOptions extends Pick<BringInOptions, 'signal'> {
  readonly onShare?: (share: number) => void;
  readonly scratchFolder?: string;
  /** A near-lossless copy of the picture to write on the way, where a size is chosen for it. */
  readonly intermediate?: {
    readonly path: string;
    readonly chooseSize: (known: KnownEarly) => SizePx | null;
  };
  /** What else to do with the picture while it is decoded; only without a scratch folder. */
  readonly alongside?: DecodeOutput;
}

/** The facts of a file with what a proposal needs; for the command line and for proving. */
export async function inspectMedia(path: string, options: InspectMediaOptions = {}): Promise<BroughtIn> {
  const { container, sizeBytes } = await sniffFile(path);
  if (findMediaKind(container) === 'photo')
    return {
      facts: await inspectPhotoFile(path, container, sizeBytes, options.signal),
      analysis: emptyAnalysis,
      files: {},
    };
  const inspect = async (scratch: string | null) => {
    const [pcmPath, smallPath] = [join(scratch ?? '', 'peaks.pcm'), join(scratch ?? '', 'small.mp4')];
    const { facts, frames, keyframesUs } = await inspectTimed(path, container, sizeBytes, {
      ...(options.signal ? { signal: options.signal } : {}),
      ...(options.onShare ? { onShare: options.onShare } : {}),
      buildOutput: ({ sound, video, frames, durationUs }) => {
        if (scratch === null) return options.alongside;
        const small = buildComplexityOutput(smallPath);
        const size =
          video && frames && durationUs <= LONGEST_COPIED_US
            ? (options.intermediate?.chooseSize({ container, sizeBytes, durationUs, video, sound, frames }) ??
              null)
            : null;
        const picture = !video
          ? []
          : size
            ? [
                `[picture]${buildPictureFilters(video, size, { isFast: false }).join(',')},split=2[i][s]`,
                small.graph.replace('[picture]', '[s]'),
              ]
            : [small.graph];
        return {
          graph: [...picture, ...(sound ? [buildPeakGraph('[sound]')] : [])],
          args: [
            ...(size ? buildIntermediateArgs(durationUs, options.intermediate?.path ?? '') : []),
            ...(video ? small.args : []),
            ...(sound ? buildPeakArgs(pcmPath) : []),
          ],
        };
      },
    });
    const peaks = scratch !== null && facts.sound ? await readPeaks(pcmPath) : null;
    const complexity =
      scratch !== null && facts.video ? await readComplexity(smallPath, options.signal) : null;
    return {
      facts,
      analysis: {
        frameTimesUs: frames ? [...frames.timesUs] : [],
        frameEndUs: frames?.endUs ?? facts.durationUs ?? 0,
        peaks,
        filmstrip: null,
        complexity,
        keyframesUs: [...keyframesUs],
      },
      files: nameIntermediate(facts, options.intermediate?.path ?? ''),
    };
  };
  if (options.scratchFolder === undefined) return inspect(null);
  return withTemporaryFolder(options.scratchFolder, inspect);
}

const emptyAnalysis: TakeAnalysis = {
  frameTimesUs: [],
  frameEndUs: 0,
  peaks: null,
  filmstrip: null,
  complexity: null,
  keyframesUs: [],
};

async function inspectPhotoFile(
  path: string,
  container: MediaFacts['container'],
  sizeBytes: number,
  signal?: AbortSignal,
): Promise<MediaFacts> {
  const [answer, sha256] = await Promise.all([
    runPhotoChild({ task: 'inspect', path, container }, signal),
    hashFile(path, signal),
  ]);
  const inspected = PhotoInspected.parse(answer);
  return {
    kind: 'photo',
    container,
    sizeBytes,
    sha256,
    durationUs: null,
    moovFirst: null,
    video: null,
    sound: null,
    photo: inspected.photo,
    captureTime: inspected.captureTime,
    locationPresent: inspected.locationPresent,
    deviceSerialPresent: inspected.deviceSerialPresent,
  };
}

async function bringInPhoto(
  path: string,
  folder: string,
  container: MediaFacts['container'],
  sizeBytes: number,
  meter: ProgressMeter,
  signal?: AbortSignal,
): Promise<BroughtIn> {
  meter.begin('Measuring the photograph', 0.05, 0.5);
  const facts = await inspectPhotoFile(path, container, sizeBytes, signal);
  meter.begin('Making a preview', 0.5, 1);
  const proxy = join(folder, 'preview.jpg');
  const poster = join(folder, 'poster.jpg');
  const outputs = [
    { path: proxy, longEdgePx: PREVIEW_LONG_EDGE, quality: 88 },
    { path: poster, longEdgePx: POSTER_LONG_EDGE, quality: 80 },
  ];
  await runPhotoChild({ task: 'preview', path, container, outputs }, signal);
  meter.tell(1);
  return { facts, analysis: emptyAnalysis, files: { proxy, poster } };
}

function buildWorkingFiles(
  known: Parameters<BuildOutput>[0],
  names: { intermediate: string; proxy: string; strip: string; poster: string; peaks: string },
  mostLines: number | null,
): ReturnType<BuildOutput> {
  const { video, sound, durationUs } = known;
  const graph: string[] = [];
  const args: string[] = [];
  const proxyMaps: string[] = [];
  if (video) {
    const size = measureProxy(video);
    const inter = planIntermediate(video, durationUs, mostLines);
    const tile = measureTile(video);
    const stripRate = (STRIP_TILES * 1e6) / Math.max(1, durationUs);
    const posterAtS = Math.min(durationUs / 2e6, Math.max(0, durationUs / 1e6 - 0.5));
    graph.push(
      ...(inter
        ? [
            `[picture]${buildPictureFilters(video, inter, { isFast: false }).join(',')},split=2[i][small]`,
            `[small]scale=${size.widthPx}:${size.heightPx}:flags=bilinear,split=3[p][t][o]`,
          ]
        : [`[picture]${buildPictureFilters(video, size, { isFast: true }).join(',')},split=3[p][t][o]`]),
      `[t]setpts=PTS-STARTPTS,fps=${stripRate.toFixed(6)}:round=up:start_time=0,scale=${tile.widthPx}:${tile.heightPx},tpad=stop_mode=clone:stop=${STRIP_TILES},trim=end_frame=${STRIP_TILES},tile=${STRIP_TILES}x1[strip]`,
      `[o]select='gte(t,${(posterAtS * 0.98).toFixed(3)})',trim=end_frame=1[poster]`,
    );
    if (inter) args.push(...buildIntermediateArgs(durationUs, names.intermediate));
    args.push(
      '-map',
      '[strip]',
      '-frames:v',
      '1',
      '-q:v',
      '4',
      '-f',
      'image2',
      '-update',
      '1',
      '-y',
      names.strip,
    );
    args.push(
      '-map',
      '[poster]',
      '-frames:v',
      '1',
      '-q:v',
      '4',
      '-f',
      'image2',
      '-update',
      '1',
      '-y',
      names.poster,
    );
    proxyMaps.push(
      '-map',
      '[p]',
      '-fps_mode',
      'passthrough',
      '-c:v',
      'libx264',
      '-preset',
      'ultrafast',
      '-tune',
      'fastdecode',
      '-crf',
      '23',
      '-g',
      '15',
      '-sc_threshold',
      '0',
      ...BT709_TAGS,
      '-video_track_timescale',
      '90000',
    );
  }
  if (sound) {
    graph.push(`[sound]asplit=2[a][k]`, buildPeakGraph('[k]'));
    args.push(...buildPeakArgs(names.peaks));
    proxyMaps.push('-map', '[a]', '-c:a', 'aac', '-b:a', '128k', '-ac', '2');
  }
  args.push(...proxyMaps, '-map_metadata', '-1', '-movflags', '+faststart', '-f', 'mp4', '-y', names.proxy);
  return { graph, args };
}

/** Half pictures cannot be taken apart any more once they have been scaled together: only whole ones leave a copy that is of use. */
function nameIntermediate(facts: MediaFacts, path: string): { intermediate?: string } {
  return facts.video?.interlace === 'progressive' && existsSync(path) ? { intermediate: path } : {};
}

function buildIntermediateArgs(durationUs: number, path: string): string[] {
  return [
    '-map',
    '[i]',
    '-fps_mode',
    'passthrough',
    '-c:v',
    'libx264',
    '-preset',
    'ultrafast',
    '-crf',
    String(chooseIntermediateCrf(durationUs)),
    '-g',
    '30',
    ...BT709_TAGS,
    '-video_track_timescale',
    '90000',
    '-map_metadata',
    '-1',
    '-f',
    'mp4',
    '-y',
    path,
  ];
}

function buildPeakGraph(pad: string): string {
  return `${pad}aresample=${PEAK_RATE_HZ}:async=1:first_pts=0,aformat=sample_fmts=s16:channel_layouts=mono[peaks]`;
}

function buildPeakArgs(path: string): string[] {
  return ['-map', '[peaks]', '-f', 's16le', '-y', path];
}

function measureTile(video: { widthPx: number; heightPx: number }): { widthPx: number; heightPx: number } {
  const width = Math.round((STRIP_TILE_HEIGHT * video.widthPx) / video.heightPx / 2) * 2;
  return { widthPx: Math.max(16, Math.min(256, width)), heightPx: STRIP_TILE_HEIGHT };
}
