import type { SizePx, VideoFacts } from '@apodix/core';
import { splitSound, type Chain } from '../graph/filter-graph.ts';
import type { KnownEarly } from '../inspect/inspect-timed.ts';
import type { DecodeOutput } from '../inspect/measure-decode.ts';
import {
  chooseIntermediateCrf,
  INTERMEDIATE_VERSION,
  LONGEST_COPIED_US,
  planIntermediate,
} from '../picture/intermediate.ts';
import { BT709_TAGS, buildPictureFilters } from '../picture/picture-filters.ts';
import { buildComplexityOutput } from './complexity.ts';
import { measureProxy } from './measure-proxy.ts';
import { PEAK_RATE_HZ } from './peaks.ts';

/*
 * What the one pass over a take makes beside measuring it, as FFmpeg's chains and arguments.
 */

export const STRIP_TILES = 40;
const STRIP_TILE_HEIGHT = 72;

/** Where the files go; those that are not made stay away. */
export interface WorkingNames {
  readonly intermediate: string;
  readonly proxy: string;
  readonly strip: string;
  readonly poster: string;
  readonly peaks: string;
  readonly small: string;
}

export interface WorkingOptions {
  readonly mostLines?: number | null;
  readonly hasIntermediate?: boolean;
  /** Whether an editing proxy is made: it is not where the recording itself seeks as well. */
  readonly hasProxy: boolean;
}

/** A near-lossless copy of the picture to write on the way, where a size is chosen for it. */
export interface ScratchIntermediate {
  readonly path: string;
  readonly chooseSize: (video: VideoFacts) => SizePx | null;
}

/** What measuring for the command line makes on the side. */
export function buildScratchFiles(
  { video, sound, durationUs }: KnownEarly,
  intermediate: ScratchIntermediate | undefined,
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
    isShaping: true,
    takes: [...(video ? (['picture'] as const) : []), ...(sound ? (['sound'] as const) : [])],
    chains: [...reduce, ...(video ? [small.chain] : []), ...(sound ? [buildPeakChain('sound')] : [])],
    args: [
      ...(size ? buildIntermediateArgs(durationUs, intermediate?.path ?? '') : []),
      ...(video ? small.args : []),
      ...(sound ? buildPeakArgs(pcmPath) : []),
    ],
  };
}

export function buildWorkingFiles(
  known: KnownEarly,
  names: WorkingNames,
  { mostLines = null, hasIntermediate = true, hasProxy }: WorkingOptions,
): DecodeOutput {
  const { video, sound, durationUs } = known;
  const chains: Chain[] = [];
  const args: string[] = [];
  const proxyMaps: string[] = [];
  if (video) {
    const size = measureProxy(video);
    const inter = hasIntermediate ? planIntermediate(video, durationUs, mostLines) : null;
    const tile = measureTile(video);
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
      {
        from: [inter ? 'reduced' : 'picture'],
        filters: [...proxyFilters, 'split=3'],
        to: [hasProxy ? 'p' : 'small-of', 't', 'o'],
      },
      {
        from: ['t'],
        filters: ['setpts=PTS-STARTPTS', ...buildStripFilters(tile, STRIP_TILES, durationUs)],
        to: ['strip'],
      },
      {
        from: ['o'],
        filters: [`select='gte(t,${(posterAtS * 0.98).toFixed(3)})'`, 'trim=end_frame=1'],
        to: ['poster'],
      },
    );
    if (inter) args.push(...buildIntermediateArgs(durationUs, names.intermediate));
    if (!hasProxy) {
      const small = buildComplexityOutput('small-of', names.small);
      chains.push(small.chain);
      args.push(...small.args);
    }
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
    if (hasProxy) chains.push(splitSound('sound', ['a', 'k']));
    chains.push(buildPeakChain(hasProxy ? 'k' : 'sound'));
    args.push(...buildPeakArgs(names.peaks));
    proxyMaps.push('-map', '[a]', '-c:a', 'aac', '-b:a', '128k', '-ac', '2');
  }
  if (hasProxy)
    args.push(...proxyMaps, '-map_metadata', '-1', '-movflags', '+faststart', '-f', 'mp4', '-y', names.proxy);
  const takes = [...(video ? (['picture'] as const) : []), ...(sound ? (['sound'] as const) : [])];
  return { isShaping: true, takes, chains, args };
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

/** Pictures at even steps of time side by side; each step shows what was last seen before its end. */
export function buildStripFilters(tile: SizePx, count: number, durationUs: number): string[] {
  const rate = (count * 1e6) / Math.max(1, durationUs);
  return [
    `fps=${rate.toFixed(6)}:round=up:start_time=0`,
    `scale=${tile.widthPx}:${tile.heightPx}`,
    `tpad=stop_mode=clone:stop=${count}`,
    `trim=end_frame=${count}`,
    `tile=${count}x1`,
  ];
}

/** Upright size of one picture of the strip. */
export function measureTile(video: { widthPx: number; heightPx: number }): {
  widthPx: number;
  heightPx: number;
} {
  const width = Math.round((STRIP_TILE_HEIGHT * video.widthPx) / video.heightPx / 2) * 2;
  return { widthPx: Math.max(16, Math.min(256, width)), heightPx: STRIP_TILE_HEIGHT };
}
