import type { MediaFacts, VideoPlan } from '@apodix/core';
import { describe, expect, it } from 'vitest';
import { buildSoundChain, buildVideoCut, measureSamples } from './video-args.ts';
import type { PictureSource } from './working-files.ts';

const sound = {
  codec: 'aac' as const,
  bitrateBps: 160_000,
  channels: 2,
  rateHz: 48_000,
  gainDb: 0,
  isCopied: false,
};
const plan = {
  kind: 'video',
  keep: { startUs: 5_000_000, finishUs: 15_000_000 },
  frameRate: { numerator: 25, denominator: 1 },
  frameCount: 250,
  widthPx: 1280,
  heightPx: 720,
  isDeinterlaced: false,
  recipe: { turnDegrees: 0, isMirrored: false },
  sound,
  toneMapFrom: null,
} as unknown as VideoPlan;
const video = {
  rateKind: 'constant',
  hdr: null,
  bitDepth: 8,
  pixelFormat: 'yuv420p',
  chroma: '4:2:0',
  widthPx: 1920,
  heightPx: 1080,
  codedWidthPx: 1920,
  codedHeightPx: 1080,
  rotationDegrees: 0,
  pixelAspect: { numerator: 1, denominator: 1 },
  color: { primaries: 'bt709', transfer: 'bt709', matrix: 'bt709', range: 'limited' },
  interlace: 'progressive',
} as unknown as PictureSource['video'];
const take = { path: '/take.mp4', facts: { container: 'mp4', video } as unknown as MediaFacts };
const source: PictureSource = { path: '/take.mp4', container: 'mp4', video, isTake: true };
const cut = (changes: Partial<Parameters<typeof buildVideoCut>[0]> = {}) =>
  buildVideoCut({ picture: source, take, plan, previousFrameUs: 4_960_000, hasSound: true, ...changes });
const seekOf = (args: readonly string[]) => Number(args[args.indexOf('-ss') + 1]);

describe('the cut', () => {
  it('starts decoding before the first kept frame and drops what lies more than half a frame before it', () => {
    const { input, graph } = cut();
    expect(seekOf(input)).toBe(2);
    // From the seek on the first kept frame stands at 3 s; half a frame of 40 ms before it is 2.98 s.
    expect(graph).toContain('trim=start=2.980000');
    expect(graph).toContain('setpts=PTS-(3.000000)/TB');
    expect(graph).toContain('trim=end_frame=250');
  });
  it('does not seek before the start, nor trim where nothing lies before', () => {
    const { input, graph } = cut({
      plan: { ...plan, keep: { startUs: 0, finishUs: 10_000_000 } },
      previousFrameUs: null,
    });
    expect(input).not.toContain('-ss');
    expect(graph.split(';')[0]).not.toContain('trim=start');
  });
  it('of a part counts from the first frame of that part', () => {
    const { input, graph } = cut({ span: { first: 100, last: 150 }, hasSound: false });
    expect(seekOf(input)).toBeCloseTo(5 + 4 - 0.7, 6);
    expect(graph).toContain('fps=25/1:start_time=4.000000');
    expect(graph).toContain('trim=end_frame=50');
    expect(graph).not.toContain('[a]');
  });
  it('turns after scaling, so that the plan tells the size as it is shown', () => {
    const turned = {
      ...plan,
      widthPx: 720,
      heightPx: 1280,
      recipe: { ...plan.recipe, turnDegrees: 90 as const, isMirrored: true },
    } as VideoPlan;
    const { graph } = cut({ plan: turned });
    expect(graph).toMatch(/1280.*720.*transpose=clock,hflip\[v\]/);
  });
  it('takes sound from the take where the picture comes from elsewhere', () => {
    const { input, graph } = cut({ picture: { ...source, path: '/inter.mp4', isTake: false } });
    expect(input.filter((arg) => arg.endsWith('/take.mp4') || arg.endsWith('/inter.mp4'))).toHaveLength(2);
    expect(graph).toContain('[1:a:0]');
  });
});

describe('sound of a cut', () => {
  it('has whole coding frames of 1024 and none beyond the last picture', () => {
    // 10 s at 48 kHz are 480 000 samples: 468 frames of 1024 and a part.
    expect(measureSamples(plan)).toBe(468 * 1024);
    expect(measureSamples({ ...plan, sound: { ...sound, codec: 'opus' } })).toBe(480_000);
    // One picture of 40 ms holds 1920 samples: one frame.
    expect(measureSamples({ ...plan, frameCount: 1 })).toBe(1024);
  });
  it('is filled with silence to its length and turned up or down only where asked', () => {
    expect(buildSoundChain(sound, 3, 1000)).toEqual([
      'asetpts=PTS-(3.000000)/TB',
      'aresample=48000:async=1:first_pts=0',
      'aformat=sample_fmts=fltp:channel_layouts=stereo',
      'atrim=start_sample=0:end_sample=1000',
      'apad=whole_len=1000',
    ]);
    expect(buildSoundChain({ ...sound, gainDb: -3.5, channels: 1 }, 0, 10).join()).toMatch(
      /layouts=mono,volume=-3\.50dB/,
    );
  });
});
