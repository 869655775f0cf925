import {
  EMPTY_SERIES,
  findMediaKind,
  isStillKind,
  type Evidence,
  type Filmstrip,
  type MediaFacts,
  type SizePx,
  type TakeSeries,
  type VideoFacts,
} from '@apodix/core';
import { existsSync } from 'node:fs';
import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { splitSound, type Chain } from '../graph/filter-graph.ts';
import { inspectTimed, type DecodeExtras, type KnownEarly } from '../inspect/inspect-timed.ts';
import type { DecodeOutput } from '../inspect/measure-decode.ts';
import type { EvidenceSizes } from '../inspect/probes/picture-evidence.ts';
import { ProofProbes, TakeProbes } from '../inspect/probes/probe-sets.ts';
import { probeCodedPictures } from '../inspect/probes/coded-pictures.ts';
import { sniffFile } from '../inspect/sniff-file.ts';
import { BT709_TAGS, buildPictureFilters } from '../picture/picture-filters.ts';
import {
  chooseIntermediateCrf,
  INTERMEDIATE_VERSION,
  LONGEST_COPIED_US,
  planIntermediate,
} from '../picture/intermediate.ts';
import { inspectStill } from '../photo/inspect-still.ts';
import { runPhotoChild } from '../photo/run-photo-child.ts';
import { ProgressMeter, type OnProgress } from '../process/progress.ts';
import { withTemporaryFolder } from '../process/temporary-folder.ts';
import { buildComplexityOutput, readComplexity } from './complexity.ts';
import { takeFirstLook, type FirstLook } from './first-look.ts';
import { measureProxy } from './measure-proxy.ts';
import { PEAK_RATE_HZ, readPeaks } from './peaks.ts';

/** What one look at a file leaves. */
export interface Inspected {
  readonly facts: MediaFacts;
  readonly series: TakeSeries;
  readonly evidence: Evidence;
  /** What came out of decoding; null for what stands still. */
  readonly decoded: { readonly frameCount: number; readonly errorCount: number } | null;
  readonly intermediatePath: string | null;
}

export interface BroughtIn extends Omit<Inspected, 'intermediatePath' | 'decoded'> {
  readonly filmstrip: Filmstrip | null;
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
  /** Told as soon as there is a picture of it, long before the rest. */
  readonly onFirstLook?: (look: FirstLook) => void;
  /** Whether a light copy for making is written where decoding is costly; it is unless this says no. */
  readonly hasIntermediate?: boolean;
}

const STRIP_TILES = 40;
const STRIP_TILE_HEIGHT = 72;
const PREVIEW_LONG_EDGE = 2048;
const POSTER_LONG_EDGE = 480;

/**
 * Judges and measures a file that has just come in and makes what is needed to work on it: for video an
 * editing proxy, a filmstrip and sound peaks in the same single decode pass; for photographs an upright sRGB
 * preview. Files are written into `folder`, which is made where it is missing. Throws an `ApodixError` where
 * the file is refused.
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
  if (isStillKind(findMediaKind(container)))
    return bringInPhoto(path, folder, container, sizeBytes, meter, options.signal);
  if (options.onFirstLook) {
    const early = { poster: join(folder, 'first-poster.jpg'), strip: join(folder, 'first-strip.jpg') };
    const look = await takeFirstLook(path, container, early, options.signal).catch(() => null);
    if (look) options.onFirstLook(look);
  }
  meter.begin('Measuring every frame', 0.05, 1);
  const names = {
    intermediate: join(folder, 'intermediate.mp4'),
    proxy: join(folder, 'proxy.mp4'),
    strip: join(folder, 'strip.jpg'),
    poster: join(folder, 'poster.jpg'),
    peaks: join(folder, 'peaks.pcm'),
  };
  const probes = new TakeProbes();
  const inspected = await inspectTimed(path, container, sizeBytes, {
    ...(options.signal ? { signal: options.signal } : {}),
    onShare: (share) => meter.tell(share),
    buildExtras: (known) => ({
      probes: probes.build(known),
      output: buildWorkingFiles(known, names, options),
    }),
  });
  const { facts, evidence, blocks } = probes.finish(inspected);
  const stripSize = facts.video ? measureTile(facts.video) : null;
  return {
    facts,
    evidence,
    series: {
      frames: inspected.frames,
      keyframesUs: inspected.keyframesUs,
      peaks: facts.sound ? await readPeaks(names.peaks) : null,
      complexity: facts.video ? await readComplexity(names.proxy, options.signal) : null,
      blocks,
    },
    filmstrip: stripSize && {
      tileWidthPx: stripSize.widthPx,
      tileHeightPx: stripSize.heightPx,
      tileCount: STRIP_TILES,
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
  /** Where working files of the measurement may go. */
  readonly scratchFolder: string;
  /** A near-lossless copy of the picture to write on the way, where a size is chosen for it. */
  readonly intermediate?: {
    readonly path: string;
    readonly chooseSize: (video: VideoFacts) => SizePx | null;
  };
}

/** The facts of a take with its series and what a proof rests on; for the command line. */
export async function inspectMedia(path: string, options: InspectMediaOptions): Promise<Inspected> {
  const { container, sizeBytes } = await sniffFile(path);
  if (isStillKind(findMediaKind(container))) {
    const { facts, evidence } = await inspectStill(path, container, sizeBytes, null, options.signal);
    return { facts, evidence, series: EMPTY_SERIES, decoded: null, intermediatePath: null };
  }
  return withTemporaryFolder(options.scratchFolder, async (scratch) => {
    const [pcmPath, smallPath] = [join(scratch, 'peaks.pcm'), join(scratch, 'small.mp4')];
    const probes = new TakeProbes();
    const inspected = await inspectTimed(path, container, sizeBytes, {
      ...(options.signal ? { signal: options.signal } : {}),
      ...(options.onShare ? { onShare: options.onShare } : {}),
      buildExtras: (known) => ({
        probes: probes.build(known),
        output: buildScratchFiles(known, options.intermediate, pcmPath, smallPath),
      }),
    });
    const { facts, evidence, blocks } = probes.finish(inspected);
    const intermediatePath = nameIntermediate(facts, options.intermediate?.path ?? '').intermediate ?? null;
    return {
      facts,
      evidence,
      decoded: inspected.decoded,
      intermediatePath,
      series: {
        frames: inspected.frames,
        keyframesUs: inspected.keyframesUs,
        peaks: facts.sound ? await readPeaks(pcmPath) : null,
        complexity: facts.video ? await readComplexity(smallPath, options.signal) : null,
        blocks,
      },
    };
  });
}

export interface ProofInspection {
  readonly facts: MediaFacts;
  readonly evidence: Evidence;
  readonly decoded: Inspected['decoded'];
  /** A hash of every coded picture, in the order of showing; null where it was not asked for. */
  readonly codedPictures: readonly string[] | null;
}

export interface InspectForProofOptions {
  readonly signal?: AbortSignal;
  readonly onShare?: (share: number) => void;
  /** Sizes of the small pictures; those of the recording, turned as the recipe turns it. */
  readonly sizes: EvidenceSizes | null;
  /** Frames that are wanted in color. */
  readonly chooseColors: (known: KnownEarly) => readonly number[];
  /** What else to do with the picture while it is decoded. */
  readonly alongside?: DecodeOutput;
  /** Whether the pictures as they are coded, in H.264, are asked for. */
  readonly wantsCoded?: boolean;
}

/** Decodes a made file whole, once, and takes from it what its proof is held by. */
export async function inspectForProof(
  path: string,
  options: InspectForProofOptions,
): Promise<ProofInspection> {
  const { container, sizeBytes } = await sniffFile(path);
  if (isStillKind(findMediaKind(container)))
    return {
      ...(await inspectStill(path, container, sizeBytes, options.sizes, options.signal)),
      decoded: null,
      codedPictures: null,
    };
  const probes = new ProofProbes(options.sizes);
  const coded = options.wantsCoded ? probeCodedPictures() : null;
  const inspected = await inspectTimed(path, container, sizeBytes, {
    isProof: true,
    ...(options.signal ? { signal: options.signal } : {}),
    ...(options.onShare ? { onShare: options.onShare } : {}),
    buildExtras: (known): DecodeExtras => ({
      probes: [
        ...probes.build(known, options.chooseColors(known)),
        ...(coded && known.video?.codec === 'h264' ? [coded] : []),
      ],
      output: options.alongside,
    }),
  });
  return {
    ...probes.finish(inspected),
    decoded: inspected.decoded,
    codedPictures: coded?.finish() ?? null,
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
  const { facts, evidence } = await inspectStill(path, container, sizeBytes, null, signal);
  meter.begin('Making a preview', 0.5, 1);
  const proxy = join(folder, 'preview.jpg');
  const poster = join(folder, 'poster.jpg');
  const outputs = [
    { path: proxy, longEdgePx: PREVIEW_LONG_EDGE, quality: 88 },
    { path: poster, longEdgePx: POSTER_LONG_EDGE, quality: 80 },
  ];
  await runPhotoChild({ task: 'preview', path, container, outputs }, signal);
  meter.tell(1);
  return { facts, evidence, series: EMPTY_SERIES, filmstrip: null, files: { proxy, poster } };
}

/** What measuring for the command line makes on the side. */
function buildScratchFiles(
  { video, sound, durationUs }: KnownEarly,
  intermediate: InspectMediaOptions['intermediate'],
  pcmPath: string,
  smallPath: string,
): DecodeOutput {
  const size = video && durationUs <= LONGEST_COPIED_US ? (intermediate?.chooseSize(video) ?? null) : null;
  const small = buildComplexityOutput(size ? 's' : 'picture', smallPath);
  const reduce: Chain[] =
    video && size
      ? [
          {
            from: ['picture'],
            filters: [...buildPictureFilters(video, size, { isFast: false, isDeep: true }), 'split=2'],
            to: ['i', 's'],
          },
        ]
      : [];
  return {
    takes: [...(video ? (['picture'] as const) : []), ...(sound ? (['sound'] as const) : [])],
    chains: [...reduce, ...(video ? [small.chain] : []), ...(sound ? [buildPeakChain('sound')] : [])],
    args: [
      ...(size ? buildIntermediateArgs(durationUs, intermediate?.path ?? '') : []),
      ...(video ? small.args : []),
      ...(sound ? buildPeakArgs(pcmPath) : []),
    ],
  };
}

function buildWorkingFiles(
  known: KnownEarly,
  names: { intermediate: string; proxy: string; strip: string; poster: string; peaks: string },
  { mostLines = null, hasIntermediate = true }: BringInOptions,
): DecodeOutput {
  const { video, sound, durationUs } = known;
  const chains: Chain[] = [];
  const args: string[] = [];
  const proxyMaps: string[] = [];
  if (video) {
    const size = measureProxy(video);
    const inter = hasIntermediate ? planIntermediate(video, durationUs, mostLines) : null;
    const tile = measureTile(video);
    const stripRate = (STRIP_TILES * 1e6) / Math.max(1, durationUs);
    const posterAtS = Math.min(durationUs / 2e6, Math.max(0, durationUs / 1e6 - 0.5));
    const proxyFilters = inter
      ? [`scale=${size.widthPx}:${size.heightPx}:flags=fast_bilinear`, 'format=yuv420p']
      : buildPictureFilters(video, size, { isFast: true });
    if (inter)
      chains.push({
        from: ['picture'],
        filters: [...buildPictureFilters(video, inter, { isFast: false, isDeep: true }), 'split=2'],
        to: ['i', 'reduced'],
      });
    chains.push(
      { from: [inter ? 'reduced' : 'picture'], filters: [...proxyFilters, 'split=3'], to: ['p', 't', 'o'] },
      {
        from: ['t'],
        filters: [
          'setpts=PTS-STARTPTS',
          `fps=${stripRate.toFixed(6)}:round=up:start_time=0`,
          `scale=${tile.widthPx}:${tile.heightPx}`,
          `tpad=stop_mode=clone:stop=${STRIP_TILES}`,
          `trim=end_frame=${STRIP_TILES}`,
          `tile=${STRIP_TILES}x1`,
        ],
        to: ['strip'],
      },
      {
        from: ['o'],
        filters: [`select='gte(t,${(posterAtS * 0.98).toFixed(3)})'`, 'trim=end_frame=1'],
        to: ['poster'],
      },
    );
    if (inter) args.push(...buildIntermediateArgs(durationUs, names.intermediate));
    args.push(...buildStillArgs('strip', names.strip), ...buildStillArgs('poster', names.poster));
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
    chains.push(splitSound('sound', ['a', 'k']), buildPeakChain('k'));
    args.push(...buildPeakArgs(names.peaks));
    proxyMaps.push('-map', '[a]', '-c:a', 'aac', '-b:a', '128k', '-ac', '2');
  }
  args.push(...proxyMaps, '-map_metadata', '-1', '-movflags', '+faststart', '-f', 'mp4', '-y', names.proxy);
  const takes = [...(video ? (['picture'] as const) : []), ...(sound ? (['sound'] as const) : [])];
  return { takes, chains, args };
}

/**
 * Half pictures cannot be taken apart any more once they have been scaled together: only whole ones leave a
 * copy that is of use.
 */
function nameIntermediate(facts: MediaFacts, path: string): { intermediate?: string } {
  return facts.video?.interlace === 'progressive' && existsSync(path) ? { intermediate: path } : {};
}

/** One JPEG of a pad's first frame. */
function buildStillArgs(pad: string, path: string): string[] {
  return ['-map', `[${pad}]`, '-frames:v', '1', '-q:v', '4', '-f', 'image2', '-update', '1', '-y', path];
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
    '-metadata',
    `comment=${INTERMEDIATE_VERSION}`,
    '-f',
    'mp4',
    '-y',
    path,
  ];
}

function buildPeakChain(from: string): Chain {
  return {
    from: [from],
    filters: [
      `aresample=${PEAK_RATE_HZ}:async=1:first_pts=0`,
      'aformat=sample_fmts=s16:channel_layouts=mono',
    ],
    to: ['peaks'],
  };
}

function buildPeakArgs(path: string): string[] {
  return ['-map', '[peaks]', '-f', 's16le', '-y', path];
}

function measureTile(video: { widthPx: number; heightPx: number }): { widthPx: number; heightPx: number } {
  const width = Math.round((STRIP_TILE_HEIGHT * video.widthPx) / video.heightPx / 2) * 2;
  return { widthPx: Math.max(16, Math.min(256, width)), heightPx: STRIP_TILE_HEIGHT };
}
