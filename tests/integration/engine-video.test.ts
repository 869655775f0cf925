import { ApodixError, buildPlan, createPlainRecipe, Limit, propose, type Recipe } from '@apodix/core';
import { inspectMedia, makeFile, type MadeFile } from '@apodix/engine';
import { execa } from 'execa';
import { mkdtemp, readdir, readFile, rm, truncate } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { makeHlg, makeTurned, makeUneven } from '../test-support/odd-clips.ts';
import { buildRecipe } from '../test-support/recipes.ts';
import { makeClip, probe, readFrameThumbs } from '../test-support/sample-media.ts';

let folder = '';
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-engine-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const limits = (...raw: Record<string, unknown>[]) =>
  raw.map((each, index) => Limit.parse({ id: `l${index}`, ...each }));

const inspect = (path: string) => inspectMedia(path, { scratchFolder: folder });

async function make(
  path: string,
  recipe: Recipe | null,
  asked: Limit[],
  options: { signal?: AbortSignal; out?: string } = {},
): Promise<MadeFile> {
  const { facts, series, evidence } = await inspect(path);
  const { plan } = buildPlan({
    facts,
    recipe: recipe ?? propose(facts, series, asked).recipe,
    limits: asked,
    series,
    takeName: 'take.mov',
    nameContext: null,
  });
  if (!plan) throw new TypeError('a plan was expected');
  return makeFile({
    sourcePath: path,
    facts,
    series,
    evidence,
    plan,
    judge: { limits: asked, nameContext: null },
    outputPath: options.out ?? join(folder, `made-${Math.random().toString(36).slice(2)}.${plan.container}`),
    ...(options.signal ? { signal: options.signal } : {}),
  });
}

describe('making', () => {
  it('keeps exactly the frames of the range, upright, BT.709, index first, below the limit', async () => {
    const path = await makeClip(folder, 'source.mov', {
      seconds: 8,
      size: '640x360',
      extra: ['-metadata', 'location=+52.5-001.2/'],
    });
    const keep = { startUs: 4_000_000, finishUs: 7_000_000 };
    const made = await make(
      path,
      buildRecipe({ keep }),
      limits(
        { kind: 'file-size', maxBytes: 400_000 },
        { kind: 'length', maxUs: 3_000_000 },
        { kind: 'location-removed' },
      ),
    );
    expect(made.everyMustMet).toBe(true);
    const outside = await probe(made.path);
    const video = outside.streams.find((stream) => stream.codec_type === 'video');
    expect(video).toMatchObject({
      codec_name: 'h264',
      profile: 'High',
      pix_fmt: 'yuv420p',
      nb_read_frames: '75',
      color_space: 'bt709',
      color_transfer: 'bt709',
      color_primaries: 'bt709',
      color_range: 'tv',
      sample_aspect_ratio: '1:1',
      r_frame_rate: '25/1',
    });
    expect(Number(outside.format.size)).toBeLessThanOrEqual(400_000);
    expect(Number(outside.format.size)).toBeGreaterThanOrEqual(388_000);
    for (const stream of outside.streams) expect(Number(stream.duration)).toBeLessThanOrEqual(3.0000001);
    expect(Number(outside.format.duration)).toBeLessThanOrEqual(3.0000001);
    const head = await readFile(made.path);
    expect(head.indexOf('moov')).toBeLessThan(head.indexOf('mdat'));
    const [source, result] = await Promise.all([readFrameThumbs(path), readFrameThumbs(made.path)]);
    const differ = (left: Uint8Array, right: Uint8Array | undefined) =>
      left.reduce((sum, value, index) => sum + Math.abs(value - (right?.[index] ?? 0)), 0);
    const shifts = [-1, 0, 1].map((shift) =>
      result.reduce((sum, thumb, index) => sum + differ(thumb, source[100 + index + shift]), 0),
    );
    expect(Math.min(...shifts)).toBe(shifts[1]);
  });

  it('turns and mirrors as asked', async () => {
    const path = await makeClip(folder, 'corner.mp4', {
      seconds: 1,
      filters: 'drawbox=0:0:iw:ih:black:fill,drawbox=0:0:iw/2:ih/2:white:fill',
    });
    const corner = async (changes: Parameters<typeof buildRecipe>[0]) => {
      const made = await make(path, buildRecipe(changes), []);
      const { stdout } = await execa(
        'ffmpeg',
        [
          '-v',
          'error',
          '-i',
          made.path,
          '-frames:v',
          '1',
          '-vf',
          'scale=2:2:flags=area,format=gray',
          '-f',
          'rawvideo',
          '-',
        ],
        { encoding: 'buffer' },
      );
      return [...stdout].map((value) => (value > 128 ? 1 : 0)).join('');
    };
    expect(await corner({})).toBe('1000');
    expect(await corner({ turnDegrees: 90 })).toBe('0100');
    expect(await corner({ turnDegrees: 270 })).toBe('0010');
    expect(await corner({ turnDegrees: 90, isMirrored: true })).toBe('1000');
  });

  it('brings HLG, uneven rates and turned pictures to one universal form', async () => {
    const made = await make(
      await makeHlg(folder),
      null,
      limits({ kind: 'picture-edge', edge: 'lines', max: 120 }),
    );
    expect(made.facts.video).toMatchObject({
      hdr: null,
      bitDepth: 8,
      widthPx: 160,
      heightPx: 120,
      color: { transfer: 'bt709', matrix: 'bt709', range: 'limited' },
    });
    const even = await make(await makeUneven(folder), null, []);
    expect(even.facts.video).toMatchObject({
      rateKind: 'constant',
      frameRate: { numerator: 25, denominator: 1 },
      frameCount: 100,
    });
    expect((await make(await makeTurned(folder), null, [])).facts.video).toMatchObject({
      rotationDegrees: 0,
      widthPx: 240,
      heightPx: 426,
      pixelAspect: { numerator: 1, denominator: 1 },
    });
  });

  it('sets the sound level with one gain and keeps sound that starts late in step', async () => {
    const path = await makeClip(folder, 'quiet.mp4', {
      sound: 'sine=997:r=48000',
      audio: ['-af', 'volume=-12dB', '-c:a', 'aac'],
    });
    const made = await make(path, null, limits({ kind: 'loudness', min: -20, max: -16 }));
    expect(made.facts.sound?.loudnessLufs).toBeCloseTo(-18, 0);
    const late = join(folder, 'late.mov');
    await execa('ffmpeg', [
      '-v',
      'error',
      '-y',
      '-i',
      path,
      '-itsoffset',
      '1',
      '-i',
      path,
      '-map',
      '0:v',
      '-map',
      '1:a',
      '-c',
      'copy',
      late,
    ]);
    const shifted = await make(late, createPlainRecipe(), []);
    expect(Math.abs(shifted.facts.sound?.startOffsetUs ?? 1e9)).toBeLessThan(30_000);
    const { stderr } = await execa('ffmpeg', [
      '-hide_banner',
      '-i',
      shifted.path,
      '-af',
      'silencedetect=n=-50dB:d=0.5',
      '-f',
      'null',
      '-',
    ]);
    expect(Number(/silence_end: ([\d.]+)/.exec(stderr)?.[1])).toBeCloseTo(1, 1);
  });

  it('gives the same bytes for the same input', async () => {
    const path = await makeClip(folder, 'same.mp4', { seconds: 2 });
    const asked = limits({ kind: 'file-size', maxBytes: 150_000 });
    const [first, second] = [await make(path, null, asked), await make(path, null, asked)];
    expect(second.facts.sha256).toBe(first.facts.sha256);
  });

  it('makes WebM, MOV and sound files where they are asked for', async () => {
    const path = await makeClip(folder, 'kinds.mp4', { seconds: 2 });
    expect((await make(path, null, limits({ kind: 'format', wanted: ['webm'] }))).facts).toMatchObject({
      container: 'webm',
      video: { codec: 'vp9' },
      sound: { codec: 'opus' },
    });
    expect((await make(path, null, limits({ kind: 'format', wanted: ['mov'] }))).facts).toMatchObject({
      container: 'mov',
      video: { codec: 'h264' },
    });
    const wav = join(folder, 'tone.wav');
    await execa('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', 'sine=440:d=3:r=44100', wav]);
    for (const container of ['m4a', 'mp3', 'flac', 'ogg', 'wav'] as const) {
      expect(
        (
          await make(
            wav,
            null,
            limits({ kind: 'format', wanted: [container] }, { kind: 'file-size', maxBytes: 400_000 }),
          )
        ).facts,
      ).toMatchObject({ container, kind: 'sound', video: null });
    }
  });
});

describe('faults while making', () => {
  it('cancel ends within seconds and leaves nothing behind', async () => {
    const path = await makeClip(folder, 'long.mp4', { seconds: 8, size: '1280x720' });
    const out = await mkdtemp(join(folder, 'cancel-'));
    const controller = new AbortController();
    const making = make(path, createPlainRecipe(), limits({ kind: 'file-size', maxBytes: 3_000_000 }), {
      signal: controller.signal,
      out: join(out, 'made.mp4'),
    });
    const ended = making.catch((error: unknown) => (error as ApodixError).code);
    while ((await readdir(out)).length === 0) await new Promise((resolve) => setTimeout(resolve, 50));
    await new Promise((resolve) => setTimeout(resolve, 500));
    const asked = Date.now();
    controller.abort();
    expect(await ended).toBe('CANCELLED');
    expect(Date.now() - asked).toBeLessThan(6000);
    expect(await readdir(out)).toEqual([]);
  });

  it('a source that is cut while it is read gives a fault and no file', async () => {
    const path = await makeClip(folder, 'vanish.mp4', { seconds: 4, extra: ['-movflags', '+faststart'] });
    const { facts, series, evidence } = await inspect(path);
    const { plan } = buildPlan({
      facts,
      recipe: createPlainRecipe(),
      limits: [],
      series,
      takeName: 'x',
      nameContext: null,
    });
    await truncate(path, Math.floor(facts.sizeBytes / 2));
    const out = await mkdtemp(join(folder, 'vanish-'));
    if (!plan) throw new TypeError('a plan was expected');
    const code = await makeFile({
      sourcePath: path,
      facts,
      series,
      evidence,
      plan,
      judge: { limits: [], nameContext: null },
      outputPath: join(out, 'made.mp4'),
    }).catch((error: unknown) => (error as ApodixError).code);
    expect(['MAKE_FAILED', 'PROOF_FAILED', 'DAMAGED']).toContain(code);
    expect(await readdir(out)).toEqual([]);
  });
});
