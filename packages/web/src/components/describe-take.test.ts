import type { MediaFacts, SoundFacts, VideoFacts } from '@apodix/core';
import { describe, expect, it } from 'vitest';
import { describeFacts } from './describe-take.ts';

const sound: SoundFacts = {
  streamIndex: 1,
  clippedCount: 0,
  codec: 'aac',
  profile: 'LC',
  channels: 2,
  layout: 'stereo',
  rateHz: 48_000,
  startUs: 0,
  startOffsetUs: 0,
  durationUs: 40_000_000,
  bitrateBps: 128_000,
  loudnessLufs: -20,
  loudnessRangeLu: 6,
  truePeakDbtp: -3,
};
const video: VideoFacts = {
  streamIndex: 0,
  codec: 'hevc',
  profile: 'Main',
  level: '4.0',
  pixelFormat: 'yuv420p',
  bitDepth: 8,
  chroma: '4:2:0',
  codedWidthPx: 960,
  codedHeightPx: 540,
  widthPx: 960,
  heightPx: 540,
  pixelAspect: { numerator: 1, denominator: 1 },
  rotationDegrees: 0,
  frameCount: 1000,
  frameRate: { numerator: 25, denominator: 1 },
  rateKind: 'constant',
  startUs: 0,
  durationUs: 40_000_000,
  color: { primaries: 'bt709', transfer: 'bt709', matrix: 'bt709', range: 'limited' },
  hdr: null,
  interlace: 'progressive',
  bitrateBps: 1_700_000,
};
const facts = (changes: Partial<VideoFacts> = {}, all: Partial<MediaFacts> = {}): MediaFacts => ({
  kind: 'video',
  container: 'mov',
  sizeBytes: 8_700_000,
  sha256: 'a'.repeat(64),
  durationUs: 40_000_000,
  seen: null,
  likeness: null,
  conditions: null,
  unread: [],
  moovFirst: true,
  video: { ...video, ...changes },
  sound,
  photo: null,
  document: null,
  continuity: null,
  captureTime: null,
  locationPresent: false,
  deviceSerialPresent: false,
  ...all,
});
const pages = (pageCount: number) =>
  facts(
    {},
    {
      kind: 'document',
      container: 'pdf',
      durationUs: null,
      video: null,
      sound: null,
      document: { pageCount, widthPx: 2480, heightPx: 3508, pictureCodec: 'jpeg', pictureCount: pageCount },
    },
  );

describe('facts on one line', () => {
  it('of a video: length, size, picture, format', () =>
    expect(describeFacts(facts())).toBe('0:40 · 8.7 MB · 960×540 · MOV, HEVC'));
  it('of a document: its pages, not the points of a picture in it', () =>
    expect([1, 3].map((count) => describeFacts(pages(count)))).toEqual([
      '8.7 MB · one page · PDF',
      '8.7 MB · 3 pages · PDF',
    ]));
  it('of sound: no picture', () =>
    expect(describeFacts(facts({}, { kind: 'sound', container: 'm4a', video: null }))).toBe(
      '0:40 · 8.7 MB · M4A, AAC',
    ));
});
