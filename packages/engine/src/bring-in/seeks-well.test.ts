import type { SoundFacts, VideoFacts } from '@apodix/core';
import { describe, expect, it } from 'vitest';
import type { KnownEarly } from '../inspect/inspect-timed.ts';
import { seeksWell } from './seeks-well.ts';

const video = {
  codec: 'h264',
  chroma: '4:2:0',
  bitDepth: 8,
  hdr: null,
  color: { primaries: 'bt709', transfer: 'bt709', matrix: 'bt709', range: 'limited' },
  rotationDegrees: 0,
  pixelAspect: { numerator: 1, denominator: 1 },
  startUs: 0,
  codedWidthPx: 1280,
  codedHeightPx: 720,
} as VideoFacts;
const sound = { codec: 'aac', channels: 2, startUs: 0 } as SoundFacts;

function build(changes: Partial<VideoFacts> = {}, group = 30, rest: Partial<KnownEarly> = {}): KnownEarly {
  const timesUs = Array.from({ length: 120 }, (_, index) => index * 33_333);
  return {
    video: { ...video, ...changes },
    sound,
    frames: { timesUs, endUs: 4_000_000 },
    keyframesUs: timesUs.filter((_, index) => index % group === 0),
    durationUs: 4_000_000,
    isProgressive: true,
    ...rest,
  };
}

describe('whether a recording seeks as well as a proxy of it', () => {
  it('plain H.264 with a keyframe a second does; with few of them, or many points between, it does not', () => {
    expect(seeksWell('mp4', build())).toBe(true);
    expect(seeksWell('mov', build({}, 34))).toBe(true);
    expect(seeksWell('mp4', build({}, 60))).toBe(false);
    expect(seeksWell('mp4', build({ codedWidthPx: 1920, codedHeightPx: 1080 }))).toBe(false);
    expect(seeksWell('mp4', build({ codedWidthPx: 1920, codedHeightPx: 1080 }, 15))).toBe(true);
  });

  it.each<[string, KnownEarly]>([
    ['another coding', build({ codec: 'hevc' })],
    ['ten bits', build({ bitDepth: 10 })],
    ['more color', build({ chroma: '4:2:2' })],
    ['high range', build({ hdr: 'hlg' })],
    ['full range', build({ color: { ...video.color, range: 'full' } })],
    ['a turned picture', build({ rotationDegrees: 90 })],
    ['wide points', build({ pixelAspect: { numerator: 4, denominator: 3 } })],
    ['a late picture', build({ startUs: 40_000 })],
    ['half pictures, or nobody knows', build({}, 30, { isProgressive: false })],
    ['sound that few browsers play', build({}, 30, { sound: { ...sound, codec: 'ac3' } })],
    ['six channels', build({}, 30, { sound: { ...sound, channels: 6 } })],
    ['late sound', build({}, 30, { sound: { ...sound, startUs: 300_000 } })],
    ['no picture', build({}, 30, { video: null })],
  ])('does not with %s', (_, known) => {
    expect(seeksWell('mp4', known)).toBe(false);
  });

  it('does not in a container that not every browser plays', () => {
    expect(seeksWell('mkv', build())).toBe(false);
  });
});
