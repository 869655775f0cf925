import { Limit, type MediaFacts } from '@apodix/core';
import fc from 'fast-check';

type Raw = Readonly<Record<string, unknown>>;

/** A figure near to the take's own: below it, it itself, above it. */
const near = (own: number) =>
  fc.constantFrom(0.2, 0.5, 0.75, 0.95, 1, 1.05, 1.5).map((share) => Math.max(1, Math.round(own * share)));
/** A least, a most, both, or both the same. */
const bounds = (value: fc.Arbitrary<number>, least: string, most: string): fc.Arbitrary<Raw> =>
  fc.oneof(
    value.map((max) => ({ [most]: max })),
    value.map((min) => ({ [least]: min })),
    fc
      .tuple(value, value)
      .map(([one, other]) => ({ [least]: Math.min(one, other), [most]: Math.max(one, other) })),
    value.map((exact) => ({ [least]: exact, [most]: exact })),
  );
const of = (kind: string, rest: fc.Arbitrary<Raw>): fc.Arbitrary<Raw> =>
  rest.map((raw) => ({ kind, ...raw }));
const some = <T>(values: readonly T[]) =>
  fc.uniqueArray(fc.constantFrom(...values), { minLength: 1, maxLength: 3 });

const CONTAINERS = {
  video: ['mp4', 'mov', 'webm', 'mkv', 'mp3', 'm4a', 'wav'],
  sound: ['mp3', 'm4a', 'wav', 'flac', 'ogg', 'mp4'],
  photo: ['jpeg', 'png', 'webp', 'tiff', 'pdf', 'heic'],
  document: ['pdf', 'jpeg', 'png'],
} as const;

function buildForPicture(facts: MediaFacts): fc.Arbitrary<Raw>[] {
  const picture = facts.video ?? facts.photo ?? facts.document;
  if (!picture) return [];
  const edge = fc.constantFrom('width', 'height', 'long', 'short', 'lines');
  return [
    of(
      'picture-edge',
      fc
        .tuple(edge, bounds(fc.oneof(near(picture.widthPx), near(picture.heightPx)), 'min', 'max'))
        .map(([which, raw]) => ({ edge: which, ...raw })),
    ),
    of(
      'orientation',
      fc.constantFrom('landscape', 'portrait', 'square').map((wanted) => ({ wanted })),
    ),
    of(
      'aspect',
      fc
        .constantFrom([4, 3], [16, 9], [3, 4], [1, 1], [picture.widthPx, picture.heightPx])
        .map(([width, height]) => ({ width, height })),
    ),
  ];
}

function buildForTime(facts: MediaFacts): fc.Arbitrary<Raw>[] {
  if (facts.durationUs === null) return [];
  return [
    of(
      'length',
      fc
        .tuple(bounds(near(facts.durationUs), 'minUs', 'maxUs'), fc.boolean())
        .map(([raw, isAbout]) => ({ ...raw, isAbout })),
    ),
    of(
      'sound-present',
      fc.boolean().map((isWanted) => ({ isWanted })),
    ),
    of(
      'sound-codec',
      some(['aac', 'mp3', 'opus', 'vorbis', 'flac', 'pcm'] as const).map((wanted) => ({ wanted })),
    ),
    of(
      'channels',
      fc.constantFrom(1, 2).map((wanted) => ({ wanted })),
    ),
    of('sample-rate', bounds(fc.constantFrom(22_050, 44_100, 48_000), 'min', 'max')),
    of('loudness', bounds(fc.integer({ min: -40, max: -10 }), 'min', 'max')),
    of(
      'true-peak',
      fc.integer({ min: -20, max: 0 }).map((maxDbtp) => ({ maxDbtp })),
    ),
    of('no-clipping', fc.constant({})),
    of('one-take', fc.constant({})),
  ];
}

/** Limits of every kind that can be about such a take, most of them near to what it is. */
export function arbitraryLimits(facts: MediaFacts): fc.Arbitrary<Limit[]> {
  const { kind, sizeBytes, video } = facts;
  const raw = fc.oneof(
    of(
      'format',
      some(CONTAINERS[kind]).map((wanted) => ({ wanted })),
    ),
    of(
      'format',
      some(CONTAINERS[kind]).map((refused) => ({ refused })),
    ),
    of(
      'file-size',
      near(sizeBytes).map((maxBytes) => ({ maxBytes })),
    ),
    of('file-size', bounds(near(sizeBytes), 'minBytes', 'maxBytes')),
    of('location-removed', fc.constant({})),
    of(
      'file-name',
      fc.constantFrom('Surname_Firstname', 'Piece').map((pattern) => ({ pattern })),
    ),
    ...buildForPicture(facts),
    ...buildForTime(facts),
    ...(video
      ? [
          of(
            'video-codec',
            some(['h264', 'hevc', 'vp9', 'av1'] as const).map((wanted) => ({ wanted })),
          ),
          of('frame-rate', bounds(fc.constantFrom(12, 15, 24, 25, 30, 50, 60), 'min', 'max')),
        ]
      : []),
  );
  const target = fc.constantFrom('any', 'any', 'any', kind, 'slot:one', 'slot:two');
  const severity = fc.constantFrom('must', 'must', 'must', 'should');
  return fc
    .array(fc.tuple(raw, target, severity), { minLength: 1, maxLength: 6 })
    .map((all) =>
      all.map(([each, appliesTo, own], index) =>
        Limit.parse({ id: `limit-${index}`, appliesTo, severity: own, ...each }),
      ),
    );
}
