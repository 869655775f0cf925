import type { Limit, LimitOf, LimitKind } from '../limits/limit.ts';
import { readLengthBounds } from '../limits/file-rows.ts';
import type { ContainerId, MediaKind } from '../media/containers.ts';

/** What the limits leave open for one kind of file, the tightest of each. */
export interface Ceilings {
  readonly maxBytes: number | null;
  readonly minUs: number | null;
  readonly maxUs: number | null;
  readonly size: { widthPx?: number; heightPx?: number; longEdgePx?: number; shortEdgePx?: number };
  readonly floors: { widthPx: number; heightPx: number; longEdgePx: number; shortEdgePx: number };
  readonly maxFrameRate: number | null;
  readonly minFrameRate: number | null;
  readonly wantedContainers: readonly ContainerId[] | null;
  readonly refusedContainers: readonly ContainerId[];
  /** Codings of the picture that are asked for; null where none is named. */
  readonly wantedVideoCodecs: readonly string[] | null;
  readonly refusedVideoCodecs: readonly string[];
  readonly channels: number | null;
  readonly minRateHz: number | null;
  readonly maxRateHz: number | null;
  readonly loudness: { min: number | null; max: number | null } | null;
  readonly maxPeakDbtp: number | null;
  readonly isSoundWanted: boolean | null;
  readonly namePattern: string | null;
}

/** Draws the tightest ceilings and floors out of all limits, *must* and *should*, that concern a kind of file. */
export function readCeilings(limits: readonly Limit[], kind: MediaKind): Ceilings {
  const isDocument = kind === 'photo' && isDocumentWanted(limits);
  const relevant = limits.filter(
    (limit) =>
      limit.appliesTo === 'any' || limit.appliesTo === kind || (isDocument && limit.appliesTo === 'document'),
  );
  const all = <K extends LimitKind>(wanted: K) =>
    relevant.filter((limit): limit is LimitOf<K> => limit.kind === wanted);
  const lengths = all('length').map(readLengthBounds);
  const edges = all('picture-edge');
  const edgeMax = (...names: string[]) =>
    least(edges.filter((limit) => names.includes(limit.edge)).map((limit) => limit.max)) ?? undefined;
  const edgeMin = (...names: string[]) =>
    most(edges.filter((limit) => names.includes(limit.edge)).map((limit) => limit.min)) ?? 0;
  const formats = all('format');
  const loudness = all('loudness');
  return {
    maxBytes: least([
      ...all('file-size').map((limit) => limit.maxBytes),
      ...all('total-size').map((limit) => limit.maxBytes),
    ]),
    minUs: most(lengths.map(([min]) => min)),
    maxUs: least(lengths.map(([, max]) => max)),
    size: dropUndefined({
      widthPx: edgeMax('width'),
      heightPx: edgeMax('height'),
      longEdgePx: edgeMax('long'),
      shortEdgePx: edgeMax('short', 'lines'),
    }),
    floors: {
      widthPx: edgeMin('width'),
      heightPx: edgeMin('height'),
      longEdgePx: edgeMin('long'),
      shortEdgePx: edgeMin('short', 'lines'),
    },
    minFrameRate: most(all('frame-rate').map((limit) => limit.min)),
    maxFrameRate: least(all('frame-rate').map((limit) => limit.max)),
    wantedContainers: joinWanted(formats.map((limit) => limit.wanted)),
    refusedContainers: formats.flatMap((limit) => limit.refused),
    wantedVideoCodecs: joinWanted(all('video-codec').map((limit) => limit.wanted)),
    refusedVideoCodecs: all('video-codec').flatMap((limit) => limit.refused),
    channels: least(all('channels').map((limit) => limit.wanted)),
    minRateHz: most(all('sample-rate').map((limit) => limit.min)),
    maxRateHz: least(all('sample-rate').map((limit) => limit.max)),
    loudness: loudness.length
      ? { min: most(loudness.map((limit) => limit.min)), max: least(loudness.map((limit) => limit.max)) }
      : null,
    maxPeakDbtp: least([
      ...all('true-peak').map((limit) => limit.maxDbtp),
      ...all('no-clipping').map(() => -0.1),
    ]),
    isSoundWanted: all('sound-present')[0]?.isWanted ?? null,
    namePattern: all('file-name')[0]?.pattern ?? null,
  };
}

/** What every list that names something allows; null where none does. */
function joinWanted<T>(lists: readonly (readonly T[])[]): readonly T[] | null {
  const named = lists.filter((list) => list.length > 0);
  return named.length > 0 ? named.reduce((left, right) => left.filter((each) => right.includes(each))) : null;
}

/** Pictures go into a document where a document is the only thing that limits on pictures or documents ask for. */
function isDocumentWanted(limits: readonly Limit[]): boolean {
  const formats = limits.filter(
    (limit): limit is LimitOf<'format'> => limit.kind === 'format' && limit.wanted.length > 0,
  );
  const ofPictures = formats.filter((limit) => limit.appliesTo === 'any' || limit.appliesTo === 'photo');
  return (
    formats.some((limit) => limit.appliesTo === 'document' && limit.wanted.includes('pdf')) &&
    ofPictures.every((limit) => limit.wanted.includes('pdf'))
  );
}

function least(values: readonly (number | null | undefined)[]): number | null {
  const known = values.filter((value): value is number => typeof value === 'number');
  return known.length ? Math.min(...known) : null;
}

function most(values: readonly (number | null | undefined)[]): number | null {
  const known = values.filter((value): value is number => typeof value === 'number');
  return known.length ? Math.max(...known) : null;
}

function dropUndefined<T extends Record<string, number | undefined>>(values: T): { [K in keyof T]?: number } {
  return Object.fromEntries(Object.entries(values).filter(([, value]) => value !== undefined)) as {
    [K in keyof T]?: number;
  };
}
