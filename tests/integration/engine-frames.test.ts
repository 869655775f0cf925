import { buildPlan, Limit, type Recipe } from '@apodix/core';
import { inspectMedia, makeFile } from '@apodix/engine';
import { execa } from 'execa';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { buildRecipe } from '../test-support/recipes.ts';
import { makeClip, probe, readFrameThumbs } from '../test-support/sample-media.ts';

let folder = '';
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-frames-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

/** Makes a file and tells of each of its frames which frame of the take it shows, as FFmpeg decodes both. */
async function makeAndRead(path: string, recipe: Recipe, raw: readonly Record<string, unknown>[]) {
  const inspected = await inspectMedia(path, { scratchFolder: folder });
  const limits = raw.map((each, index) => Limit.parse({ id: `l${index}`, ...each }));
  const judge = { limits, nameContext: null };
  const { plan } = buildPlan({ ...inspected, recipe, takeName: 'take.mov', ...judge });
  if (!plan) throw new TypeError('A plan was expected.');
  const outputPath = join(folder, `made.${plan.container}`);
  const made = await makeFile({ sourcePath: path, ...inspected, plan, judge, outputPath });
  const [source, result] = await Promise.all([readFrameThumbs(path), readFrameThumbs(outputPath)]);
  const differ = (left: Uint8Array, right: Uint8Array) =>
    left.reduce((sum, value, index) => sum + Math.abs(value - (right[index] ?? 0)), 0);
  const shown = result.map((thumb) => {
    const all = source.map((each) => differ(thumb, each));
    return all.indexOf(Math.min(...all));
  });
  return { made, shown, outside: await probe(outputPath) };
}

describe('every frame that is kept', () => {
  it.each([
    ['coded', [{ kind: 'file-size', maxBytes: 300_000 }]] as const,
    ['taken over where it can be', []] as const,
  ])('is the one that was asked for, from a start between frames, %s', async (_name, raw) => {
    const path = await makeClip(folder, 'steady.mov', {
      seconds: 3,
      video: ['-c:v', 'libx264', '-crf', '14', '-g', '10'],
    });
    const { shown, made } = await makeAndRead(
      path,
      buildRecipe({ keep: { startUs: 404_000, finishUs: 1_404_000 } }),
      raw,
    );
    expect(shown).toEqual(Array.from({ length: 25 }, (_, index) => 10 + index));
    expect(made.everyMustMet).toBe(true);
  });

  it('is shown to its end where a variable rate shows the last one longer', async () => {
    const steady = await makeClip(folder, 'before.mov', { seconds: 2 });
    const path = join(folder, 'uneven.mov');
    const stretch = 'setts=duration=if(eq(N\\,49)\\,DURATION*4\\,DURATION)';
    await execa('ffmpeg', ['-v', 'error', '-y', '-i', steady, '-c', 'copy', '-bsf:v', stretch, path]);
    const { shown, outside, made } = await makeAndRead(path, buildRecipe(), [
      { kind: 'file-size', maxBytes: 400_000 },
    ]);
    const before = await probe(path);
    const lengthOf = (each: typeof before) =>
      Number(each.streams.find((stream) => stream.codec_type === 'video')?.duration);
    // The last frame begins at 1.96 s and is on screen for four times as long as the others.
    expect(lengthOf(before)).toBeGreaterThan(2.1);
    expect(Math.abs(lengthOf(outside) - lengthOf(before))).toBeLessThanOrEqual(0.02);
    expect(shown.at(-1)).toBe(49);
    expect(shown.filter((frame) => frame === 49).length).toBeGreaterThanOrEqual(3);
    expect(made.everyMustMet).toBe(true);
  });

  it('stands at 25 a second where 25 of 30 are wanted, not at half', async () => {
    const path = await makeClip(folder, 'thirty.mov', { seconds: 2, rate: '30' });
    const { shown } = await makeAndRead(path, buildRecipe(), [{ kind: 'frame-rate', max: 25 }]);
    expect(shown.length).toBe(50);
    for (let index = 1; index < shown.length; index += 1)
      expect((shown[index] ?? 0) - (shown[index - 1] ?? 0)).toBeGreaterThanOrEqual(1);
  });
});

it('plain samples go into a MOV where they are asked for', async () => {
  const path = await makeClip(folder, 'plain.mov', { seconds: 1, audio: ['-c:a', 'pcm_s16le'] });
  const { outside } = await makeAndRead(path, buildRecipe(), [{ kind: 'sound-codec', wanted: ['pcm'] }]);
  const sound = outside.streams.find((stream) => stream.codec_type === 'audio');
  expect(sound?.codec_name).toBe('pcm_s16le');
  await expect(
    execa('ffmpeg', ['-v', 'error', '-i', join(folder, 'made.mov'), '-f', 'null', '-']),
  ).resolves.toMatchObject({
    stderr: '',
  });
});
