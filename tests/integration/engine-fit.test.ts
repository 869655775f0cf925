import {
  buildOffers,
  buildPlan,
  createPlainRecipe,
  isSampled,
  Limit,
  planNextSample,
  planSamples,
  type ApodixError,
  type Evidence,
  type FitSamples,
  type PlanInput,
  type Recipe,
  type VideoPlan,
} from '@apodix/core';
import { inspectMedia, makeFile, sampleTake } from '@apodix/engine';
import { execa } from 'execa';
import { copyFile, mkdir, mkdtemp, readdir, rm, stat, truncate } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { killIfThere } from '../test-support/kill-if-there.ts';
import { makeKeyed } from '../test-support/odd-clips.ts';
import { buildRecipe } from '../test-support/recipes.ts';
import { makeClip, probe, readFrameThumbs } from '../test-support/sample-media.ts';

let folder = '';
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-fit-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const limits = (...raw: Record<string, unknown>[]) =>
  raw.map((each, index) => Limit.parse({ id: `l${index}`, ...each }));
const TAGGED = [
  '-c:v',
  'libx264',
  '-profile:v',
  'high',
  '-preset',
  'veryfast',
  '-crf',
  '18',
  '-g',
  '25',
  '-sc_threshold',
  '0',
  '-color_primaries',
  'bt709',
  '-color_trc',
  'bt709',
  '-colorspace',
  'bt709',
  '-color_range',
  'tv',
];

async function prepare(
  path: string,
  asked: Limit[],
  recipe: Recipe = createPlainRecipe(),
): Promise<PlanInput & { evidence: Evidence }> {
  const { facts, series, evidence } = await inspectMedia(path, { scratchFolder: folder });
  return {
    facts,
    recipe,
    limits: asked,
    series,
    evidence,
    takeName: 'clip.mp4',
    nameContext: null,
  };
}

async function makeIn(
  name: string,
  path: string,
  input: Awaited<ReturnType<typeof prepare>>,
  options: { signal?: AbortSignal; onProgress?: () => void } = {},
) {
  const { plan } = buildPlan(input);
  if (!plan) throw new TypeError('a plan was expected');
  const own = join(folder, name);
  await mkdir(own, { recursive: true });
  const made = await makeFile({
    sourcePath: path,
    facts: input.facts,
    series: input.series,
    evidence: input.evidence,
    plan,
    judge: { limits: input.limits, nameContext: null },
    outputPath: join(own, plan.fileName),
    ...options,
  });
  return { made, plan };
}

/** MD5 of the coded picture as FFmpeg itself reads it, packet by packet. */
async function readPacketHashes(path: string): Promise<string[]> {
  const { stdout } = await execa('ffmpeg', [
    '-v',
    'error',
    '-i',
    path,
    '-map',
    '0:v:0',
    '-c',
    'copy',
    '-bsf:v',
    'h264_mp4toannexb,filter_units=remove_types=6|7|8|9',
    '-f',
    'framehash',
    '-hash',
    'md5',
    '-',
  ]);
  return stdout
    .split('\n')
    .filter((line) => line && !line.startsWith('#'))
    .map((line) => line.split(',').at(-1)?.trim() ?? '');
}

describe('planning from samples', () => {
  it('foretells bytes within 3 % and clarity within 0.005 of the file that is then made', async () => {
    const path = await makeKeyed(folder, 'sampled.mp4', 10);
    const asked = limits({ kind: 'file-size', maxBytes: 900_000 }, { kind: 'format', wanted: ['mp4'] });
    const input = await prepare(path, asked, buildRecipe({ isMirrored: true }));
    const spec = planSamples(input.facts, input.series, input.recipe, asked);
    if (!spec) throw new TypeError('samples were expected');
    const take = { sourcePath: path, facts: input.facts, series: input.series, recipe: input.recipe };
    const sample = (more: Partial<Parameters<typeof sampleTake>[0]>) =>
      sampleTake({
        ...take,
        ...{ spec, scratchFolder: folder, findNext: (first) => planNextSample({ ...input, samples: first }) },
        ...more,
      });
    // A second of it comes first, at every other size. Interrupted after its first window, it has one,
    // and a plan by it; begun again it goes on after that.
    expect(spec.windows.length).toBeGreaterThan(1);
    const stop = new AbortController();
    const grown: FitSamples[] = [];
    const onGrown = (each: FitSamples) => {
      if (grown.push(each) === 2) stop.abort();
    };
    await expect(sample({ signal: stop.signal, onGrown })).rejects.toMatchObject({ code: 'CANCELLED' });
    const [rough, known] = grown;
    if (!rough || !known) throw new TypeError('a window was expected');
    expect([rough.points.length, isSampled(rough, spec)]).toEqual([3, false]);
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
    const { made, plan } = await makeIn('sampled', path, sampled);
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
    const asked = limits({ kind: 'file-size', maxBytes: 220_000 }, { kind: 'format', wanted: ['mp4'] });
    const input = await prepare(path, asked, buildRecipe({ isMirrored: true }));
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
    expect(rate.model?.crf).toBeLessThan(Math.max(...own.map(({ crf }) => crf)) + 0.45);
    expect(isSampled(first, spec)).toBe(false);
    // One that was interrupted is taken again; what is known of it whole makes way for all windows.
    const broken = { ...plain, points: plain.points.slice(0, 3) };
    expect((await sampleTake({ ...all, isFirstLook: true, known: broken })).points).toEqual(plain.points);
    const whole = await sampleTake({ ...all, isFirstLook: true, known: first });
    expect([whole.windows, isSampled(whole, spec)]).toEqual([spec.windows, true]);
    for (const { bytes } of whole.points) expect(bytes).toHaveLength(spec.windows.length);
  });
});

describe('taking the coded picture over', () => {
  it('wraps a recording that meets the limits anew: every packet the same, index first, private notes gone', async () => {
    const path = await makeClip(folder, 'wrap.mov', {
      seconds: 4,
      video: TAGGED,
      extra: ['-metadata', 'location=+52.5-001.2/'],
    });
    const input = await prepare(
      path,
      limits(
        { kind: 'format', wanted: ['mp4'] },
        { kind: 'file-size', maxBytes: 50_000_000 },
        { kind: 'location-removed' },
      ),
    );
    const { made } = await makeIn('wrap', path, input);
    expect([
      made.plan.kind === 'video' && made.plan.method,
      made.everyMustMet,
      made.facts.moovFirst,
      made.facts.locationPresent,
    ]).toEqual(['rewrap', true, true, false]);
    expect(await readPacketHashes(made.path)).toEqual(await readPacketHashes(path));
  });

  it('cuts to the frame: only the groups at the ends are coded again', async () => {
    const path = await makeClip(folder, 'cut.mp4', { seconds: 10, video: TAGGED });
    const keep = { startUs: 1_400_000, finishUs: 8_720_000 };
    const { made } = await makeIn(
      'cut',
      path,
      await prepare(path, limits({ kind: 'file-size', maxBytes: 50_000_000 }), buildRecipe({ keep })),
    );
    expect(made.plan.kind === 'video' && made.plan.method).toBe('cut');
    expect(made.facts.video).toMatchObject({ frameCount: 183, rateKind: 'constant', startUs: 0 });
    const [source, result] = await Promise.all([readFrameThumbs(path), readFrameThumbs(made.path)]);
    expect(result).toHaveLength(183);
    // Frame 35 is the first that is kept; the keyframes at 50 and 200 bound what is taken over.
    for (let frame = 50; frame < 200; frame += 1) expect(result[frame - 35]).toEqual(source[frame]);
    const differ = (left: Uint8Array | undefined, right: Uint8Array | undefined) =>
      (left ?? new Uint8Array()).reduce(
        (sum, value, index) => sum + Math.abs(value - (right?.[index] ?? 0)),
        0,
      );
    for (const frame of [35, 36, 48, 201, 216, 217]) {
      const shifts = [-1, 0, 1].map((shift) => differ(result[frame - 35], source[frame + shift]));
      expect(Math.min(...shifts)).toBe(shifts[1]);
    }
    const outside = await probe(made.path);
    expect(outside.streams.find((stream) => stream.codec_type === 'video')).toMatchObject({
      nb_read_frames: '183',
    });
  });

  it('codes instead where a turn is asked for', async () => {
    const path = join(folder, 'wrap.mov');
    const { plan } = buildPlan(
      await prepare(
        path,
        limits({ kind: 'file-size', maxBytes: 50_000_000 }),
        buildRecipe({ turnDegrees: 90 }),
      ),
    );
    expect(plan).toMatchObject({ kind: 'video', method: 'code' });
  });
});

it('takes the sound alone out of a video where sound is what is wanted', async () => {
  const path = await makeClip(folder, 'talk.mp4', { seconds: 3 });
  const { made } = await makeIn(
    'talk',
    path,
    await prepare(
      path,
      limits({ kind: 'format', wanted: ['mp3'] }, { kind: 'file-size', maxBytes: 200_000 }),
    ),
  );
  expect(made.facts).toMatchObject({ kind: 'sound', container: 'mp3', video: null });
  expect(made.findings.find((finding) => finding.of === 'proof' && finding.row === 'step')?.state).toBe(
    'met',
  );
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
      const asked = limits(
        { kind: 'file-size', maxBytes: 250_000 },
        { kind: 'format', wanted: ['mp4'] },
        ...(name === 'asked' ? [{ kind: 'video-codec', wanted: [codec] }] : []),
      );
      const { made } = await makeIn(
        name,
        path,
        await prepare(path, asked, buildRecipe({ isMirrored: true })),
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

describe('faults while making', () => {
  let whole = '';
  let input: Awaited<ReturnType<typeof prepare>>;
  beforeAll(async () => {
    whole = await makeClip(folder, 'whole.mp4', {
      seconds: 12,
      size: '1280x720',
      video: ['-c:v', 'libx264', '-preset', 'ultrafast', '-crf', '16', '-g', '50'],
    });
    input = await prepare(
      whole,
      limits({ kind: 'file-size', maxBytes: 4_000_000 }),
      buildRecipe({ isMirrored: true }),
    );
  });
  const start = async (name: string, options: { signal?: AbortSignal } = {}) => {
    const path = join(folder, `${name}.mp4`);
    await copyFile(whole, path);
    let begun = (): void => undefined;
    const isCoding = new Promise<void>((resolve) => (begun = resolve));
    const making = makeIn(name, path, input, { ...options, onProgress: () => begun() });
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
