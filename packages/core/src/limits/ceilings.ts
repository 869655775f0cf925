import type { ContainerId } from '../media/containers.ts';

/** What the limits leave open for one kind of file: the tightest of each. */
export interface Ceilings {
  readonly minBytes: number | null;
  readonly maxBytes: number | null;
  readonly minUs: number | null;
  readonly maxUs: number | null;
  readonly size: { widthPx?: number; heightPx?: number; longEdgePx?: number; shortEdgePx?: number };
  readonly floors: { widthPx: number; heightPx: number; longEdgePx: number; shortEdgePx: number };
  readonly maxFrameRate: number | null;
  readonly minFrameRate: number | null;
  readonly wantedContainers: readonly ContainerId[] | null;
  readonly refusedContainers: readonly ContainerId[];
  /** Codings that are asked for; null where none is named. */
  readonly wantedVideoCodecs: readonly string[] | null;
  readonly refusedVideoCodecs: readonly string[];
  readonly wantedSoundCodecs: readonly string[] | null;
  readonly refusedSoundCodecs: readonly string[];
  readonly channels: number | null;
  readonly minRateHz: number | null;
  readonly maxRateHz: number | null;
  readonly loudness: { min: number | null; max: number | null } | null;
  readonly maxPeakDbtp: number | null;
  readonly isSoundWanted: boolean | null;
  readonly namePattern: string | null;
}

export const OPEN_CEILINGS: Ceilings = {
  minBytes: null,
  maxBytes: null,
  minUs: null,
  maxUs: null,
  size: {},
  floors: { widthPx: 0, heightPx: 0, longEdgePx: 0, shortEdgePx: 0 },
  maxFrameRate: null,
  minFrameRate: null,
  wantedContainers: null,
  refusedContainers: [],
  wantedVideoCodecs: null,
  refusedVideoCodecs: [],
  wantedSoundCodecs: null,
  refusedSoundCodecs: [],
  channels: null,
  minRateHz: null,
  maxRateHz: null,
  loudness: null,
  maxPeakDbtp: null,
  isSoundWanted: null,
  namePattern: null,
};

/** The smaller of both; null says that nothing is asked. */
export function tightenMax(left: number | null, right: number | null | undefined): number | null {
  if (right === null || right === undefined) return left;
  return left === null ? right : Math.min(left, right);
}

export function tightenMin(left: number | null, right: number | null | undefined): number | null {
  if (right === null || right === undefined) return left;
  return left === null ? right : Math.max(left, right);
}

/** What both lists allow; an empty list names nothing. */
export function joinWanted<T>(left: readonly T[] | null, right: readonly T[]): readonly T[] | null {
  if (right.length === 0) return left;
  return left === null ? right : left.filter((each) => right.includes(each));
}

/** Whether something is left between every least and most, and of every list. */
export function isOpen(ceilings: Ceilings): boolean {
  const pairs: readonly (readonly [number | null, number | null])[] = [
    [ceilings.minBytes, ceilings.maxBytes],
    [ceilings.minUs, ceilings.maxUs],
    [ceilings.minFrameRate, ceilings.maxFrameRate],
    [ceilings.minRateHz, ceilings.maxRateHz],
    [ceilings.loudness?.min ?? null, ceilings.loudness?.max ?? null],
    [ceilings.floors.widthPx, ceilings.size.widthPx ?? null],
    [ceilings.floors.heightPx, ceilings.size.heightPx ?? null],
    [ceilings.floors.longEdgePx, ceilings.size.longEdgePx ?? null],
    [ceilings.floors.shortEdgePx, ceilings.size.shortEdgePx ?? null],
  ];
  const lists: readonly (readonly [readonly string[] | null, readonly string[]])[] = [
    [ceilings.wantedContainers, ceilings.refusedContainers],
    [ceilings.wantedVideoCodecs, ceilings.refusedVideoCodecs],
    [ceilings.wantedSoundCodecs, ceilings.refusedSoundCodecs],
  ];
  return (
    pairs.every(([min, max]) => min === null || max === null || min <= max) &&
    lists.every(([wanted, refused]) => wanted === null || wanted.some((each) => !refused.includes(each)))
  );
}
