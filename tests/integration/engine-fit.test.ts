import {
  buildOffers,
  buildPlan,
  isSampled,
  planNextSample,
  planSamples,
  type ApodixError,
  type FitSamples,
  type VideoPlan,
} from '@apodix/core';
import { sampleTake } from '@apodix/engine';
import { execa } from 'execa';
import { copyFile, mkdtemp, readdir, rm, stat, truncate } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { killIfThere } from '../test-support/kill-if-there.ts';
import { codeNaive, evenNaive } from '../test-support/naive.ts';
import { makeKeyed } from '../test-support/odd-clips.ts';
import { buildLimits, makePrepared, prepareTake } from '../test-support/prepared-takes.ts';
import { buildRecipe } from '../test-support/recipes.ts';
import { makeClip, probe } from '../test-support/sample-media.ts';

let folder = '';
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-fit-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

describe('planning from samples', () => {
  it('foretells bytes within 3 % and clarity within 0.005 of the file that is then made', async () => {
    const path = await makeKeyed(folder, 'sampled.mp4', 10);
    const asked = buildLimits({ kind: 'file-size', maxBytes: 900_000 }, { kind: 'format', wanted: ['mp4'] });
    const input = await prepareTake(folder, path, asked, buildRecipe({ isMirrored: true }));
    const spec = planSamples(input.facts, input.series, input.recipe, asked);
    if (!spec) throw new TypeError('samples were expected');
    const take = { sourcePath: path, facts: input.facts, series: input.series, recipe: input.recipe };
    const sample = (more: Partial<Parameters<typeof sampleTake>[0]>) =>
      sampleTake({
        ...take,
        ...{ spec, scratchFolder: folder, findNext: (first) => planNextSample({ ...input, samples: first }) },
        ...more,
      });
    // A second of it comes first, at every other size, finest and coarsest. Interrupted after its first
    // window, it has one, and a plan by it; begun again it goes on after that.
    expect(spec.windows.length).toBeGreaterThan(1);
    const stop = new AbortController();
    const grown: FitSamples[] = [];
    const onGrown = (each: FitSamples) => {
      if (grown.push(each) === 2) stop.abort();
    };
    await expect(sample({ signal: stop.signal, onGrown })).rejects.toMatchObject({ code: 'CANCELLED' });
    const [rough, known] = grown;
    if (!rough || !known) throw new TypeError('a window was expected');
    expect([rough.points.length, isSampled(rough, spec)]).toEqual([2, false]);
    const plans = [rough, known].map((each) => buildPlan({ ...input, samples: each }).plan as VideoPlan);
    expect(Math.abs((plans[0]?.rate.model?.crf ?? 0) - (plans[1]?.rate.model?.crf ?? 99))).toBeLessThan(2);
    expect([known.windows, isSampled(known, spec)]).toEqual([[spec.windows[0]], false]);
    const early = buildPlan({ ...input, samples: known }).plan as VideoPlan;
    expect(early.rate.model?.sampledShare).toBeCloseTo(0.2, 2);
    const samples = await sample({ known });
    expect([samples.windows, isSampled(samples, spec)]).toEqual([spec.windows, true]);
    expect(samples.points.slice(0, 6).map(({ bytes }) => bytes[0])).toEqual(
      known.points.map(({ bytes }) => bytes[0]),
    );
    // Two numbers of lines at three rate factors each, and one more where the plan stands.
    expect(samples.points).toHaveLength(7);
    const sampled = { ...input, samples };
    const { curves, offers } = buildOffers(sampled);
    expect(curves.map((curve) => curve.lines)).toEqual([360, 240]);
    for (const { plan } of offers) expect(plan.prediction.bytes).toBeLessThanOrEqual(900_000);
    const { made, plan } = await makePrepared(join(folder, 'sampled'), path, sampled);
    expect(Math.abs(made.facts.sizeBytes / plan.prediction.bytes - 1)).toBeLessThanOrEqual(0.03);
    expect(
      Math.abs((made.comparison.picture?.ssimMean ?? 0) - ((plan as VideoPlan).prediction.ownSsim ?? 0)),
    ).toBeLessThanOrEqual(0.005);
    const proof = made.findings.filter((finding) => finding.of === 'proof');
    expect(proof.map((finding) => [finding.row, finding.state])).toEqual(
      [
        'whole',
        'frames',
        'picture',
        'order',
        'geometry',
        'color',
        'clarity',
        'lengths',
        'sound',
        'step',
        'loudness',
        'private',
      ].map((row) => [row, 'met']),
    );
  });
});

describe('a first look', () => {
  it('goes as far as the plan by it, and leaves the rest to be sampled', async () => {
    const path = await makeKeyed(folder, 'tight.mp4', 10);
    const asked = buildLimits({ kind: 'file-size', maxBytes: 220_000 }, { kind: 'format', wanted: ['mp4'] });
    const input = await prepareTake(folder, path, asked, buildRecipe({ isMirrored: true }));
    const spec = planSamples(input.facts, input.series, input.recipe, asked);
    if (!spec) throw new TypeError('samples were expected');
    const { facts, series, recipe } = input;
    const all = { sourcePath: path, facts, series, recipe, spec, scratchFolder: folder };
    const findNext = (samples: FitSamples) => planNextSample({ ...input, samples });
    const plain = await sampleTake({ ...all, isFirstLook: true });
    expect(plain.windows).toEqual([{ ...spec.windows[0], durationUs: 1_000_000 }]);
    const next = findNext(plain);
    if (!next) throw new TypeError('a plan beyond the samples was expected');
    expect(Math.max(...spec.crfs)).toBeLessThan(next.crf);
    const first = await sampleTake({ ...all, isFirstLook: true, findNext });
    expect(first.points.slice(0, plain.points.length)).toEqual(plain.points);
    expect(first.points[plain.points.length]).toMatchObject(next);
    // What is begun by it lies where something was really coded.
    const { rate, cut } = buildPlan({ ...input, samples: first }).plan as VideoPlan;
    const own = first.points.filter(({ lines }) => lines === Math.min(cut.widthPx, cut.heightPx));
    expect(rate.model?.crf).toBeLessThan(Math.max(...own.map(({ crf }) => crf)) + 0.4);
    expect(isSampled(first, spec)).toBe(false);
    // One that was interrupted is taken again; what is known of it whole makes way for all windows.
    const broken = { ...plain, points: plain.points.slice(0, 3) };
    expect((await sampleTake({ ...all, isFirstLook: true, known: broken })).points).toEqual(plain.points);
    const whole = await sampleTake({ ...all, isFirstLook: true, known: first });
    expect([whole.windows, isSampled(whole, spec)]).toEqual([spec.windows, true]);
    for (const { bytes } of whole.points) expect(bytes).toHaveLength(spec.windows.length);
  });

  it('takes as many frames at 60 a second as at 30, and foretells the bytes of a whole window by them', async () => {
    const path = await makeClip(folder, 'quick.mp4', {
      ...{ seconds: 6, size: '480x270', rate: '60', filters: 'noise=alls=6:allf=t' },
      video: ['-c:v', 'libx264', '-preset', 'ultrafast', '-crf', '16', '-g', '60'],
    });
    const asked = buildLimits({ kind: 'file-size', maxBytes: 400_000 }, { kind: 'format', wanted: ['mp4'] });
    const { facts, series, recipe } = await prepareTake(
      folder,
      path,
      asked,
      buildRecipe({ isMirrored: true }),
    );
    const spec = planSamples(facts, series, recipe, asked);
    if (!spec) throw new TypeError('samples were expected');
    const all = { sourcePath: path, facts, series, recipe, spec, scratchFolder: folder };
    const grown: FitSamples[] = [];
    const look = await sampleTake({ ...all, isFirstLook: true, onGrown: (each) => void grown.push(each) });
    expect(look.windows).toEqual([{ ...spec.windows[0], durationUs: 500_000 }]);
    // What comes first has all frames; halves of them come with the rest.
    expect(grown[0]?.points.map(({ rateDivisor, crf }) => [rateDivisor, crf])).toEqual([
      [1, 20],
      [1, 34],
    ]);
    expect(new Set(look.points.map(({ rateDivisor }) => rateDivisor))).toEqual(new Set([1, 2]));
    const whole = await sampleTake({ ...all, spec: { ...spec, windows: spec.windows.slice(0, 1) } });
    for (const { lines, rateDivisor, crf, bytes } of look.points) {
      const same = whole.points.find(
        (point) => point.lines === lines && point.rateDivisor === rateDivisor && point.crf === crf,
      );
      // A quarter of the window. As it stands it would have its keyframe four times.
      expect(Math.abs((4 * (bytes[0] ?? 0)) / (same?.bytes[0] ?? 1) - 1)).toBeLessThan(0.1);
    }
  });
});

describe('codings', () => {
  it('without samples meets the size in two passes, with HEVC only where it is asked for', async () => {
    const path = await makeClip(folder, 'coded.mp4', {
      seconds: 4,
      size: '480x270',
      filters: 'noise=alls=6:allf=t',
    });
    for (const [name, codec, tag] of [
      ['plain', 'h264', 'avc1'],
      ['asked', 'hevc', 'hvc1'],
    ] as const) {
      const asked = buildLimits(
        { kind: 'file-size', maxBytes: 250_000 },
        { kind: 'format', wanted: ['mp4'] },
        ...(name === 'asked' ? [{ kind: 'video-codec', wanted: [codec] }] : []),
      );
      const { made } = await makePrepared(
        join(folder, name),
        path,
        await prepareTake(folder, path, asked, buildRecipe({ isMirrored: true })),
      );
      expect([
        made.everyMustMet,
        made.facts.sizeBytes <= 250_000,
        made.facts.sizeBytes >= 242_500,
        made.facts.moovFirst,
      ]).toEqual([true, true, true, true]);
      expect(made.comparison.picture?.ssimMean).toBeGreaterThan(0.8);
      const outside = await probe(made.path);
      expect(outside.streams.find((stream) => stream.codec_type === 'video')).toMatchObject({
        codec_name: codec,
        codec_tag_string: tag,
        color_space: 'bt709',
        pix_fmt: 'yuv420p',
      });
    }
  });
});

/** SSIM of a file to the mirrored recording, over all frames, as FFmpeg itself measures it. */
async function measureSsim(path: string, source: string): Promise<number> {
  const count = 'settb=1/1000,setpts=N';
  const graph = `[0:v]${count}[a];[1:v]hflip,${count}[b];[a][b]ssim`;
  const { stderr } = await execa('ffmpeg', [
    ...['-i', path, '-i', source, '-lavfi', graph, '-f', 'null', '-'],
  ]);
  return Number(/SSIM .*All:([\d.]+)/.exec(stderr)?.[1]);
}

describe('where little is allowed', () => {
  it('a file of few lines is as clear as two passes of x264 `medium` with as many bytes, within 0.002', async () => {
    const path = join(folder, 'zoom.mp4');
    const seconds = 6;
    await execa('ffmpeg', [
      ...['-v', 'error', '-f', 'lavfi', '-i', 'mandelbrot=s=640x360:r=25,noise=alls=4:allf=t'],
      ...['-t', String(seconds), '-pix_fmt', 'yuv420p', '-c:v', 'libx264', '-preset', 'veryfast'],
      // Tagged, so that nothing is converted on either way.
      ...['-crf', '12', '-g', '25', '-color_range', 'tv', '-colorspace', 'bt709'],
      ...['-color_primaries', 'bt709', '-color_trc', 'bt709', path],
    ]);
    const asked = buildLimits({ kind: 'file-size', maxBytes: 230_000 });
    const input = await prepareTake(folder, path, asked, buildRecipe({ isMirrored: true }));
    const { made, plan } = await makePrepared(join(folder, 'little'), path, input);
    expect([made.everyMustMet, plan.kind === 'video' && plan.cut.heightPx]).toEqual([true, 360]);
    const byHand = {
      ...{ path, filters: 'hflip', soundBps: 0, seconds, bytes: made.facts.sizeBytes, folder },
      outputPath: join(folder, 'naive.mp4'),
    };
    await codeNaive(byHand);
    expect((await evenNaive(byHand)) / made.facts.sizeBytes).toBeCloseTo(1, 2);
    const [own, other] = [await measureSsim(made.path, path), await measureSsim(byHand.outputPath, path)];
    expect(other).toBeGreaterThan(0.8);
    expect([own - other >= -0.002, own, other]).toEqual([true, own, other]);
  });
});

describe('faults while making', () => {
  let whole = '';
  let input: Awaited<ReturnType<typeof prepareTake>>;
  beforeAll(async () => {
    whole = await makeClip(folder, 'whole.mp4', {
      seconds: 12,
      size: '1280x720',
      video: ['-c:v', 'libx264', '-preset', 'ultrafast', '-crf', '16', '-g', '50'],
    });
    input = await prepareTake(
      folder,
      whole,
      buildLimits({ kind: 'file-size', maxBytes: 4_000_000 }),
      buildRecipe({ isMirrored: true }),
    );
  });
  const start = async (name: string, options: { signal?: AbortSignal } = {}) => {
    const path = join(folder, `${name}.mp4`);
    await copyFile(whole, path);
    let begun = (): void => undefined;
    const isCoding = new Promise<void>((resolve) => (begun = resolve));
    const making = makePrepared(join(folder, name), path, input, { ...options, onProgress: () => begun() });
    making.catch(() => undefined);
    await isCoding;
    await new Promise((resolve) => setTimeout(resolve, 1500));
    return { path, making };
  };
  const findCoders = async (name: string) => {
    const { stdout } = await execa('ps', ['-eo', 'pid,args']);
    return stdout
      .split('\n')
      .filter((line) => line.includes('ffmpeg') && line.includes(`/${name}.mp4`) && !line.includes('ps -eo'))
      .map((line) => Number(line.trim().split(' ')[0]));
  };

  it('stops within a second and leaves nothing behind', async () => {
    const controller = new AbortController();
    const { making } = await start('stopped', { signal: controller.signal });
    const startedAt = performance.now();
    controller.abort();
    expect(((await making.catch((error: unknown) => error)) as ApodixError).code).toBe('CANCELLED');
    expect(performance.now() - startedAt).toBeLessThan(3000);
    expect(await readdir(join(folder, 'stopped'))).toEqual([]);
    expect(await findCoders('stopped')).toEqual([]);
  });

  it('tells when the coder was killed, and leaves nothing behind', async () => {
    const { making } = await start('killed');
    const coders = await findCoders('killed');
    expect(coders.length).toBeGreaterThan(0);
    for (const pid of coders) killIfThere(pid);
    expect(((await making.catch((error: unknown) => error)) as ApodixError).code).toBe('MAKE_FAILED');
    expect(await readdir(join(folder, 'killed'))).toEqual([]);
  });

  it('makes no file from a recording that is cut off while it is being made', async () => {
    const { path, making } = await start('cut-off');
    await truncate(path, Math.floor((await stat(path)).size * 0.2));
    expect(['MAKE_FAILED', 'DAMAGED', 'TRUNCATED', 'PROOF_FAILED']).toContain(
      ((await making.catch((error: unknown) => error)) as ApodixError).code,
    );
    expect(await readdir(join(folder, 'cut-off'))).toEqual([]);
  });
});
