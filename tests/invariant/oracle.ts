import type { Limit } from '@apodix/core';

/** What a file is, in plain figures, whoever found them. null where it has no such thing or nobody knows. */
export interface Figures {
  readonly container: string;
  readonly videoCodec: string | null;
  readonly soundCodec: string | null;
  readonly sizeBytes: number | null;
  readonly durationUs: number | null;
  readonly widthPx: number | null;
  readonly heightPx: number | null;
  readonly frameRate: number | null;
  readonly hasSound: boolean;
  readonly channels: number | null;
  readonly sampleRateHz: number | null;
  readonly loudnessLufs: number | null;
  readonly truePeakDbtp: number | null;
}

/** Time stamps of files are whole milliseconds in some containers. */
const STAMP_US = 1000;
const EXACT_ROOM_US = 500_000;
const RATE_ROOM = 1 / 1001;
const LEVEL_ROOM = 0.1;

function isInside(
  value: number | null,
  min: number | null,
  max: number | null,
  room: number,
): boolean | null {
  if (value === null) return null;
  return (min === null || value >= min - room) && (max === null || value <= max + room);
}

function holdEdge(limit: Extract<Limit, { kind: 'picture-edge' }>, { widthPx: w, heightPx: h }: Figures) {
  if (w === null || h === null) return null;
  const edges = { width: w, height: h, long: Math.max(w, h), short: Math.min(w, h), lines: Math.min(w, h) };
  return isInside(edges[limit.edge], limit.min, limit.max, 0);
}

function holdLength(limit: Extract<Limit, { kind: 'length' }>, figures: Figures) {
  const { minUs, maxUs, isAbout } = limit;
  if (isAbout) return isInside(figures.durationUs, minUs && minUs * 0.9, maxUs && maxUs * 1.1, STAMP_US);
  const min = minUs !== null && minUs === maxUs ? minUs - EXACT_ROOM_US : minUs;
  return isInside(figures.durationUs, min, maxUs, STAMP_US);
}

function holdHeld(wanted: 'landscape' | 'portrait' | 'square', { widthPx: w, heightPx: h }: Figures) {
  if (w === null || h === null) return null;
  return (w > h ? 'landscape' : w < h ? 'portrait' : 'square') === wanted;
}

function holdCodec(limit: { wanted: readonly string[]; refused: readonly string[] }, codec: string | null) {
  if (codec === null) return null;
  return (limit.wanted.length === 0 || limit.wanted.includes(codec)) && !limit.refused.includes(codec);
}

type Holders = {
  readonly [K in Limit['kind']]?: (limit: Extract<Limit, { kind: K }>, figures: Figures) => boolean | null;
};

/** Kinds that plain figures tell. */
const holders: Holders = {
  format: (limit, { container }) => holdCodec(limit, container),
  'video-codec': (limit, { videoCodec }) => holdCodec(limit, videoCodec),
  'sound-codec': (limit, { soundCodec }) => holdCodec(limit, soundCodec),
  'file-size': (limit, { sizeBytes }) => isInside(sizeBytes, limit.minBytes, limit.maxBytes, 0),
  length: holdLength,
  'picture-edge': holdEdge,
  orientation: (limit, figures) => holdHeld(limit.wanted, figures),
  aspect: (limit, { widthPx, heightPx }) =>
    widthPx === null || heightPx === null
      ? null
      : Math.abs((widthPx * limit.height) / heightPx / limit.width - 1) <= 0.01,
  'frame-rate': ({ min, max }, { frameRate }) =>
    isInside(frameRate, min, max, (max ?? min ?? 0) * RATE_ROOM * 1.1),
  'sound-present': (limit, { hasSound }) => hasSound === limit.isWanted,
  channels: (limit, { channels }) => (channels === null ? null : channels === limit.wanted),
  'sample-rate': ({ min, max }, { sampleRateHz }) => isInside(sampleRateHz, min, max, 0),
  loudness: ({ min, max }, { loudnessLufs }) => isInside(loudnessLufs, min, max, LEVEL_ROOM),
  'true-peak': ({ maxDbtp }, { truePeakDbtp }) => isInside(truePeakDbtp, null, maxDbtp, LEVEL_ROOM),
};

/**
 * Whether a file meets a limit by its plain figures, as docs/limits.md words it and written without the rows
 * of the table; null where these figures do not tell.
 */
export function holds(limit: Limit, figures: Figures): boolean | null {
  const hold = holders[limit.kind] as ((each: Limit, own: Figures) => boolean | null) | undefined;
  return hold ? hold(limit, figures) : null;
}
