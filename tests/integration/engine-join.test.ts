import { Limit, createPlainRecipe, type Recipe } from '@apodix/core';
import { makeFromTake, proveTake } from '@apodix/engine';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { listOpen } from '../test-support/findings.ts';
import {
  countCrossings,
  drawNumbers,
  makeClip,
  probe,
  readFramePoints,
  readNumbers,
} from '../test-support/sample-media.ts';

let folder = '';
let [first, second, upright, silent] = ['', '', '', ''];
const SECOND = 512;
/** Rising, so that each moment is like itself alone. */
const tone = (hz: number) => `aevalsrc=0.125*sin(2*PI*(${hz}+20*t)*t):s=48000`;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-join-'));
  const common = { size: '640x360', rate: '30' };
  [first, second, upright, silent] = await Promise.all([
    makeClip(folder, 'first.mp4', { ...common, seconds: 3, filters: drawNumbers(), sound: tone(300) }),
    makeClip(folder, 'second.mp4', {
      ...common,
      seconds: 2,
      filters: `hue=h=120,${drawNumbers(SECOND)}`,
      sound: tone(900),
    }),
    makeClip(folder, 'upright.mov', {
      size: '360x640',
      rate: '25',
      seconds: 2,
      filters: 'hue=h=60',
      sound: tone(600),
    }),
    makeClip(folder, 'silent.mp4', { ...common, seconds: 1, filters: 'negate', audio: null }),
  ]);
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const limits = [Limit.parse({ id: 'size', kind: 'file-size', maxBytes: 3_000_000 })];
const other = (takeId: string) => ({ takeId, role: 'take' as const, offsetUs: 0, driftPpm: 0 });
const span = (source: number, startS: number, finishS: number) => ({
  source,
  startUs: startS * 1e6,
  finishUs: finishS * 1e6,
});
function joinSpans(spans: Recipe['spans'], ids: readonly string[]): Recipe {
  const plain = createPlainRecipe();
  return { ...plain, sources: [...plain.sources, ...ids.map(other)], spans };
}
let count = 0;
async function make(recipe: Recipe | null, thenPaths: readonly string[]) {
  const outputFolder = join(folder, `out-${(count += 1)}`);
  return makeFromTake({ path: first, limits, recipe, thenPaths, outputFolder });
}
const range = (from: number, to: number) => Array.from({ length: to - from }, (_, index) => from + index);

describe('parts of several takes in one file', () => {
  it('has every frame of every part, in order, and its sound in step', async () => {
    const recipe = joinSpans([span(0, 0.5, 1.5), span(1, 0.2, 1.2), span(0, 2, 2.5)], ['b']);
    const { made } = await make(recipe, [second]);
    if (!made) throw new TypeError('a made file was expected');
    expect(listOpen(made.findings)).toEqual([]);
    expect(await readNumbers(made.path)).toEqual([...range(15, 45), ...range(518, 548), ...range(60, 75)]);
    // 300 to 420 Hz cross zero up to nine times in a hundredth of a second, 900 Hz eighteen times.
    const crossings = await countCrossings(made.path);
    const higher = crossings.flatMap((each, index) => (each > 13 ? [index / 100] : []));
    expect(Math.abs((higher[0] ?? 0) - 1)).toBeLessThanOrEqual(0.0214);
    expect(Math.abs((higher.at(-1) ?? 0) + 0.01 - 2)).toBeLessThanOrEqual(0.0214);
    // Somebody who has the three files and the recipe finds the same.
    const proof = await proveTake({
      madePath: made.path,
      sourcePath: first,
      thenPaths: [second],
      recipe,
      limits,
      scratchFolder: folder,
    });
    expect(listOpen(proof.findings)).toEqual([]);
    const swapped = joinSpans([span(1, 0.2, 1.2), span(0, 0.5, 1.5), span(0, 2, 2.5)], ['b']);
    const doubt = await proveTake({
      madePath: made.path,
      sourcePath: first,
      thenPaths: [second],
      recipe: swapped,
      limits,
      scratchFolder: folder,
    });
    expect(doubt.findings.filter(({ state }) => state === 'short').length).toBeGreaterThan(1);
  });

  it('stands another shape and rate inside the first, black around it, and is proven', async () => {
    const { made } = await make(joinSpans([span(0, 1, 2), span(1, 0, 1)], ['u']), [upright]);
    if (!made) throw new TypeError('a made file was expected');
    expect(listOpen(made.findings)).toEqual([]);
    expect([made.facts.video?.widthPx, made.facts.video?.heightPx]).toEqual([640, 360]);
    const points = await readFramePoints(made.path, 45, 64);
    const lightAt = (x: number) => Math.max(...points.subarray((18 * 64 + x) * 3, (18 * 64 + x) * 3 + 3));
    expect([lightAt(2), lightAt(20), lightAt(44), lightAt(61)].every((level) => level <= 6)).toBe(true);
    expect(Math.max(...range(24, 40).map(lightAt))).toBeGreaterThan(60);
  });

  it('is silent where a take has no sound, and joins whole takes where no recipe is given', async () => {
    const { made, recipe } = await make(null, [silent]);
    if (!made) throw new TypeError('a made file was expected');
    expect(recipe.spans.map(({ source }) => source)).toEqual([0, 1]);
    expect(listOpen(made.findings)).toEqual([]);
    const crossings = await countCrossings(made.path);
    expect(crossings.slice(305, 390).filter((each) => each > 2)).toEqual([]);
    const { streams } = await probe(made.path);
    expect(streams.find((each) => each.codec_type === 'video')?.nb_read_frames).toBe('120');
  });

  it('says which takes a recipe wants', async () => {
    const recipe = joinSpans([span(0, 0, 1), span(1, 0, 1)], ['b']);
    await expect(make(recipe, [])).rejects.toMatchObject({
      detail: 'The recipe joins 1 more takes; 0 are given.',
    });
  });
});
