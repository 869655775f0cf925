import {
  buildConstantFrameTimes,
  createPlainRecipe,
  EMPTY_SERIES,
  isStillKind,
  keepRange,
  type MediaFacts,
  type Recipe,
} from '@apodix/core';
import fc from 'fast-check';
import type { Case } from './check-plan.ts';
import { arbitraryLimits } from './limits.ts';

const base = {
  sha256: 'a'.repeat(64),
  moovFirst: null,
  video: null,
  sound: null,
  photo: null,
  document: null,
  continuity: null,
  seen: null,
  likeness: null,
  conditions: null,
  unread: [],
  captureTime: null,
  locationPresent: false,
  deviceSerialPresent: false,
};
const size = fc.constantFrom(
  [640, 360],
  [1280, 720],
  [1920, 1080],
  [1080, 1920],
  [3840, 2160],
  [800, 600],
  [513, 771],
);
const rates = fc.constantFrom([24, 1], [25, 1], [30, 1], [30_000, 1001], [50, 1], [60, 1], [15, 1]);

const arbitrarySound = (durationUs: number): fc.Arbitrary<MediaFacts['sound']> =>
  fc
    .record({
      channels: fc.constantFrom(1, 2, 6),
      rateHz: fc.constantFrom(22_050, 44_100, 48_000, 96_000),
      codec: fc.constantFrom('aac', 'mp3', 'opus', 'pcm', 'flac'),
      loudnessLufs: fc.option(fc.integer({ min: -45, max: -5 })),
      clippedCount: fc.constantFrom(0, 0, 3, null),
    })
    .map((own) => ({
      streamIndex: 1,
      profile: null,
      layout: null,
      startUs: 0,
      startOffsetUs: 0,
      durationUs,
      bitrateBps: 128_000,
      loudnessRangeLu: 5,
      truePeakDbtp: own.loudnessLufs === null ? null : Math.min(0.5, own.loudnessLufs + 14),
      ...own,
    }));

const arbitraryVideo: fc.Arbitrary<MediaFacts> = fc
  .record({
    size,
    rate: rates,
    frameCount: fc.integer({ min: 1, max: 3000 }),
    codec: fc.constantFrom('h264', 'hevc', 'vp9', 'prores'),
  })
  .chain(
    ({ size: [widthPx = 2, heightPx = 2], rate: [numerator = 25, denominator = 1], frameCount, codec }) => {
      const durationUs = Math.round((frameCount * denominator * 1e6) / numerator);
      return fc.option(arbitrarySound(durationUs)).map((sound) => ({
        ...base,
        kind: 'video',
        container: 'mov',
        sizeBytes: Math.max(2000, Math.round((durationUs / 1e6) * 1_500_000)),
        durationUs,
        sound,
        video: {
          streamIndex: 0,
          codec,
          profile: null,
          level: null,
          pixelFormat: 'yuv420p',
          bitDepth: 8,
          chroma: '4:2:0',
          codedWidthPx: widthPx,
          codedHeightPx: heightPx,
          widthPx,
          heightPx,
          pixelAspect: { numerator: 1, denominator: 1 },
          rotationDegrees: 0,
          frameCount,
          frameRate: { numerator, denominator },
          rateKind: 'constant',
          startUs: 0,
          durationUs,
          color: { primaries: 'bt709', transfer: 'bt709', matrix: 'bt709', range: 'limited' },
          hdr: null,
          interlace: 'progressive',
          bitrateBps: 12_000_000,
        },
      }));
    },
  );

const arbitrarySoundTake: fc.Arbitrary<MediaFacts> = fc
  .integer({ min: 50_000, max: 300_000_000 })
  .chain((durationUs) =>
    arbitrarySound(durationUs).map((sound) => ({
      ...base,
      kind: 'sound',
      container: 'wav',
      sizeBytes: Math.max(1000, Math.round(durationUs * 0.19)),
      durationUs,
      sound,
    })),
  );

const arbitraryPhoto: fc.Arbitrary<MediaFacts> = fc
  .record({
    size,
    sizeBytes: fc.integer({ min: 20_000, max: 9_000_000 }),
    container: fc.constantFrom('jpeg', 'heic', 'png'),
  })
  .map(({ size: [widthPx = 2, heightPx = 2], sizeBytes, container }) => ({
    ...base,
    kind: 'photo',
    container,
    sizeBytes,
    durationUs: null,
    photo: {
      codec: container === 'heic' ? 'hevc' : container,
      widthPx,
      heightPx,
      orientation: 1,
      bitDepth: 8,
      channels: 3,
      hasAlpha: false,
      colorProfile: null,
      isProgressive: false,
      frameCount: 1,
      piece: null,
    },
  }));

const arbitraryDocument: fc.Arbitrary<MediaFacts> = fc
  .record({ pageCount: fc.integer({ min: 1, max: 9 }), sizeBytes: fc.integer({ min: 5000, max: 9_000_000 }) })
  .map(({ pageCount, sizeBytes }) => ({
    ...base,
    kind: 'document',
    container: 'pdf',
    sizeBytes,
    durationUs: null,
    document: { pageCount, widthPx: 1240, heightPx: 1754, pictureCodec: 'jpeg', pictureCount: pageCount },
  }));

/** What may be kept, turned, mirrored and amplified of such a take; sometimes joined from two parts. */
export function arbitraryRecipe(facts: MediaFacts): fc.Arbitrary<Recipe> {
  const { durationUs } = facts;
  const share = fc.double({ min: 0, max: 0.95, noNaN: true });
  const range = fc.tuple(share, share).map(([from, to]) => {
    const startUs = Math.floor(Math.min(from, to) * (durationUs ?? 0));
    return { startUs, finishUs: Math.max(startUs + 1, Math.ceil(Math.max(from, to) * (durationUs ?? 0))) };
  });
  return fc
    .record({
      keep: durationUs === null ? fc.constant(null) : fc.option(range),
      turnDegrees: fc.constantFrom(0 as const, 0 as const, 90 as const, 180 as const, 270 as const),
      isMirrored: fc.boolean(),
      straightenDegrees: fc.constantFrom(0, 0, 0, -4.5, 12),
      crop: fc.constantFrom(null, null, { x: 0.1, y: 0.2, width: 0.6, height: 0.7 }),
      gainDb: fc.constantFrom(0, 0, -6, 4),
    })
    .map(({ keep, turnDegrees, isMirrored, straightenDegrees, crop, gainDb }) => {
      const plain = keepRange(createPlainRecipe(), keep);
      // Photographs are only turned and mirrored.
      const framing = isStillKind(facts.kind) ? {} : { straightenDegrees, crop };
      return {
        ...plain,
        picture: { ...plain.picture, turnDegrees, isMirrored, ...framing },
        sound: { ...plain.sound, gainDb },
      };
    });
}

export function arbitraryCaseOf(facts: MediaFacts, series: Case['series']): fc.Arbitrary<Case> {
  return fc
    .record({
      recipe: arbitraryRecipe(facts),
      limits: arbitraryLimits(facts),
      slotId: fc.constantFrom(null, 'one'),
    })
    .map((rest) => ({ facts, series, ...rest }));
}

/** Takes of every kind, with what may be kept of them and limits near to what they are. */
export const arbitraryCase: fc.Arbitrary<Case> = fc
  .oneof(arbitraryVideo, arbitraryVideo, arbitrarySoundTake, arbitraryPhoto, arbitraryDocument)
  .chain((facts) => {
    const { video } = facts;
    const frames = video ? buildConstantFrameTimes(0, video.frameCount, video.frameRate) : null;
    return arbitraryCaseOf(facts, { ...EMPTY_SERIES, frames });
  });
