import {
  findPlace,
  type FrameTimes,
  type MediaFacts,
  type SteadyCourse,
  type TakePlace,
  type TimelineSpan,
} from '@apodix/core';

/** A take that parts are joined from, and where it lies on the common time of all. */
export interface JoinedFile {
  readonly path: string;
  /** Its own, as it was inspected. */
  readonly facts: MediaFacts;
  readonly frames: FrameTimes | null;
  readonly place: TakePlace;
}

/** A take with those that are joined to it; `facts` tell of all of them together. */
export interface TakeFiles {
  readonly path: string;
  readonly facts: MediaFacts;
  readonly joined?: readonly JoinedFile[];
  /** Places of what is drawn: a card, parts that go over into one another. */
  readonly drawn?: readonly TakePlace[];
  /** How the take itself is steadied; null where it is not. */
  readonly steady?: SteadyCourse | null;
  /** A picture of the opening card, where there is one. */
  readonly cardPath?: string | null;
}

/** What is drawn at a stretch of the timeline; null where it was recorded. */
export function findDrawn(
  take: TakeFiles,
  { sourceStartUs }: Pick<TimelineSpan, 'sourceStartUs'>,
): TakePlace | null {
  return (
    (take.drawn ?? []).find((place) => sourceStartUs >= place.startUs && sourceStartUs < place.endUs) ?? null
  );
}

/** The joined take that a stretch of the timeline is read from; null where it is the recipe's own. */
export function findJoinedFile(
  take: TakeFiles,
  span: Pick<TimelineSpan, 'sourceStartUs'>,
): JoinedFile | null {
  const joined = take.joined ?? [];
  if (joined.length === 0) return null;
  const own: TakePlace = { source: -1, startUs: 0, endUs: 0, firstFrame: 0 };
  const place = findPlace([own, ...joined.map((each) => each.place)], span.sourceStartUs);
  return joined.find((each) => each.place === place) ?? null;
}
