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
  const relevant = limits.filter((limit) => limit.appliesTo === 'any' || limit.appliesTo === kind);
  const all = <K extends LimitKind>(wanted: K) => relevant.filter((limit): limit is LimitOf<K> => limit.kind === wanted);
  const lengths = all('length').map(readLengthBounds);
  const edges = all('picture-edge');
  const edgeMax = (...names: string[]) => least(edges.filter((limit) => names.includes(limit.edge)).map((limit) => limit.max)) ?? undefined;
  const edgeMin = (...names: string[]) => most(edges.filter((limit) => names.includes(limit.edge)).map((limit) => limit.min)) ?? 0;
  const formats = all('format');
  const loudness = all('loudness');
  return {
    maxBytes: least([...all('file-size').map((limit) => limit.maxBytes), ...all('total-size').map((limit) => limit.maxBytes)]),
    minUs: most(lengths.map(([min]) => min)),
    maxUs: least(lengths.map(([, max]) => max)),
    size: dropUndefined({ widthPx: edgeMax('width'), heightPx: edgeMax('height'), longEdgePx: edgeMax('long'), shortEdgePx: edgeMax('short', 'lines') }),
    floors: { widthPx: edgeMin('width'), heightPx: edgeMin('height'), longEdgePx: edgeMin('long'), shortEdgePx: edgeMin('short', 'lines') },
    minFrameRate: most(all('frame-rate').map((limit) => limit.min)),
    maxFrameRate: least(all('frame-rate').map((limit) => limit.max)),
    wantedContainers: formats.some((limit) => limit.wanted.length) ? formats.map((limit) => limit.wanted).filter((ids) => ids.length).reduce((left, right) => left.filter((id) => right.includes(id))) : null,
    refusedContainers: formats.flatMap((limit) => limit.refused),
    channels: least(all('channels').map((limit) => limit.wanted)),
    minRateHz: most(all('sample-rate').map((limit) => limit.min)),
    maxRateHz: least(all('sample-rate').map((limit) => limit.max)),
    loudness: loudness.length ? { min: most(loudness.map((limit) => limit.min)), max: least(loudness.map((limit) => limit.max)) } : null,
    maxPeakDbtp: least([...all('true-peak').map((limit) => limit.maxDbtp), ...all('no-clipping').map(() => -0.1)]),
    isSoundWanted: all('sound-present')[0]?.isWanted ?? null,
    namePattern: all('file-name')[0]?.pattern ?? null,
  };
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
  return Object.fromEntries(Object.entries(values).filter(([, value]) => value !== undefined)) as { [K in keyof T]?: number };
}
