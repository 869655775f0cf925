import type { MediaFacts, VideoFacts } from '@apodix/core';
import { describe, expect, it } from 'vitest';
import { chooseIntermediateCrf, planIntermediate } from '../picture/intermediate.ts';
import { choosePicture, describeWorkingPicture, openIntermediate } from './working-files.ts';

const video: VideoFacts = {
  streamIndex: 0,
  codec: 'hevc',
  profile: 'Main 10',
  level: '5.1',
  pixelFormat: 'yuv420p10le',
  bitDepth: 10,
  chroma: '4:2:0',
  codedWidthPx: 3840,
  codedHeightPx: 2160,
  widthPx: 2160,
  heightPx: 3840,
  pixelAspect: { numerator: 1, denominator: 1 },
  rotationDegrees: 90,
  frameCount: 250,
  frameRate: { numerator: 25, denominator: 1 },
  rateKind: 'constant',
  startUs: 0,
  durationUs: 10_000_000,
  color: { primaries: 'bt2020', transfer: 'arib-std-b67', matrix: 'bt2020nc', range: 'limited' },
  hdr: 'hlg',
  interlace: 'progressive',
  bitrateBps: 40_000_000,
};
const plain: VideoFacts = {
  ...video,
  codec: 'h264',
  bitDepth: 8,
  pixelFormat: 'yuv420p',
  hdr: null,
  widthPx: 1920,
  heightPx: 1080,
  codedWidthPx: 1920,
  codedHeightPx: 1080,
  rotationDegrees: 0,
};
const take = { path: '/take.mov', facts: { container: 'mov', video } as MediaFacts };

describe('planIntermediate', () => {
  it('of a costly take has 1080 lines, or as many as limits allow, upright and even', () => {
    expect(planIntermediate(video, 10_000_000)).toEqual({ widthPx: 1080, heightPx: 1920 });
    expect(planIntermediate(video, 10_000_000, 720)).toEqual({ widthPx: 720, heightPx: 1280 });
    expect(planIntermediate(video, 10_000_000, 721)).toEqual({ widthPx: 722, heightPx: 1282 });
  });
  it('is never larger than the take, nor too small to be of use again', () => {
    expect(planIntermediate({ ...video, widthPx: 640, heightPx: 360 }, 10_000_000, 4000)).toEqual({
      widthPx: 640,
      heightPx: 360,
    });
    expect(planIntermediate(video, 10_000_000, 90)).toEqual({ widthPx: 360, heightPx: 640 });
  });
  it('is not made of what is quickly decoded, nor where it would fill the disk', () => {
    expect(planIntermediate(plain, 10_000_000)).toBeNull();
    expect(planIntermediate(video, 3_600_000_000)).toBeNull();
    expect(planIntermediate({ ...plain, widthPx: 2560, heightPx: 1440 }, 10_000_000)).toEqual({
      widthPx: 1920,
      heightPx: 1080,
    });
  });
  it('is finer for short takes', () =>
    expect(chooseIntermediateCrf(60_000_000)).toBeLessThan(chooseIntermediateCrf(600_000_000)));
});

describe('choosePicture', () => {
  const working = { intermediate: { path: '/inter.mp4', widthPx: 1080, heightPx: 1920 } };
  it('takes the working picture where it is large enough, upright and in BT.709', () => {
    const picture = choosePicture(take, { widthPx: 720, heightPx: 1280 }, working);
    expect(picture).toMatchObject({
      path: '/inter.mp4',
      isTake: false,
      video: { rotationDegrees: 0, hdr: null, bitDepth: 10, widthPx: 1080, color: { matrix: 'bt709' } },
    });
    // Time is the take's own.
    expect(picture.video.frameCount).toBe(250);
  });
  it('takes the take where it is not, or where there is none', () => {
    expect(choosePicture(take, { widthPx: 1440, heightPx: 2560 }, working).isTake).toBe(true);
    expect(choosePicture(take, { widthPx: 720, heightPx: 1280 }, undefined).path).toBe('/take.mov');
  });
  it('serves sideways results of upright takes too', () =>
    expect(choosePicture(take, { widthPx: 1280, heightPx: 720 }, working).isTake).toBe(false));
});

it('describes what bringing in has made of it', () =>
  expect(describeWorkingPicture(video, { widthPx: 720, heightPx: 1280 }).pixelAspect).toEqual({
    numerator: 1,
    denominator: 1,
  }));

it('opens no working picture that is missing or unreadable', async () => {
  expect(await openIntermediate(undefined)).toEqual({});
  expect(await openIntermediate('/nowhere/inter.mp4')).toEqual({});
  expect(await openIntermediate(import.meta.filename)).toEqual({});
});
