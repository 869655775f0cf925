import type { JobKind } from '@apodix/core';

/** Places for jobs. What is delivered never waits behind what is made, and costs next to no computing. */
export interface Lane {
  readonly kinds: readonly JobKind[];
  /** Of these, kinds that nobody waits for: they run alone, and make way for any other. */
  readonly patient: readonly JobKind[];
  readonly places: number;
  /** Places beside those for what is done in seconds, so that it need not wait for what takes minutes. */
  readonly quickPlaces: number;
}

const DELIVERIES_AT_ONCE = 4;

export function buildLanes(concurrency: number): readonly Lane[] {
  return [
    {
      kinds: ['inspect', 'shake', 'make', 'sheet', 'sample', 'ahead'],
      patient: ['sample', 'ahead'],
      places: concurrency,
      quickPlaces: 1,
    },
    { kinds: ['deliver'], patient: [], places: DELIVERIES_AT_ONCE, quickPlaces: 0 },
  ];
}

export function findLane(lanes: readonly Lane[], kind: JobKind): Lane {
  const lane = lanes.find((each) => each.kinds.includes(kind));
  if (!lane) throw new TypeError(`No lane takes ${kind}.`);
  return lane;
}
