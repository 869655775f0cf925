import { Limit, createPlainRecipe, type OpeningCard, type Recipe } from '@apodix/core';
import { makeFromTake, proveTake } from '@apodix/engine';
import { execa } from 'execa';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { listOpen } from '../test-support/findings.ts';
import {
  countCrossings,
  drawNumbers,
  makeClip,
  readFramePoints,
  readNumbers,
  readVolume,
} from '../test-support/sample-media.ts';

let folder = '';
let [first, second] = ['', ''];
const SECOND = 512;
const tone = (hz: number) => `aevalsrc=0.125*sin(2*PI*(${hz}+20*t)*t):s=48000`;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-draw-'));
  const common = { size: '640x360', rate: '30' };
  [first, second] = await Promise.all([
    makeClip(folder, 'first.mp4', { ...common, seconds: 3, filters: drawNumbers(), sound: tone(300) }),
    makeClip(folder, 'second.mp4', {
      ...common,
      seconds: 3,
      filters: `hue=h=120,${drawNumbers(SECOND)}`,
      sound: tone(900),
    }),
  ]);
});
afterAll(() => rm(folder, { recursive: true, force: true }));

async function makeTone(hz: number): Promise<string> {
  const path = join(folder, `tone-${hz}.wav`);
  await execa('ffmpeg', ['-v', 'error', '-f', 'lavfi', '-i', `${tone(hz)}:d=3`, path]);
  return path;
}

const limits = [Limit.parse({ id: 'size', kind: 'file-size', maxBytes: 3_000_000 })];
const card: OpeningCard = {
  title: 'Étude in G',
  lines: ['Mira Okonedo', 'Music, form 10'],
  lengthUs: 1_000_000,
};
const span = (source: number, startS: number, finishS: number, dissolveS?: number) => ({
  source,
  startUs: startS * 1e6,
  finishUs: finishS * 1e6,
  ...(dissolveS === undefined ? {} : { dissolveUs: dissolveS * 1e6 }),
});
const plain = createPlainRecipe();
const both: Recipe = {
  ...plain,
  sources: [...plain.sources, { takeId: 'b', role: 'take', offsetUs: 0, driftPpm: 0 }],
  spans: [span(0, 0.5, 2), span(1, 0.2, 1.7, 0.5)],
  card,
};
let count = 0;
async function make(recipe: Recipe, thenPaths: readonly string[], path = first) {
  const outputFolder = join(folder, `out-${(count += 1)}`);
  const result = await makeFromTake({ path, limits, recipe, thenPaths, outputFolder });
  if (!result.made) throw new TypeError(`a made file was expected: ${JSON.stringify(result.refusals)}`);
  return result.made;
}
const prove = (madePath: string, recipe: Recipe, thenPaths: readonly string[]) =>
  proveTake({ madePath, sourcePath: first, thenPaths, recipe, limits, scratchFolder: folder });
const range = (from: number, to: number) => Array.from({ length: to - from }, (_, index) => from + index);

describe('an opening card and parts that go over into one another', () => {
  it('stand in the file frame by frame, in silence and at equal power, and are proven', async () => {
    const made = await make(both, [second]);
    expect(listOpen(made.findings)).toEqual([]);
    // 30 frames of the card, 30 of the first part alone, 15 of both, 30 of the second part alone.
    expect(made.facts.video?.frameCount).toBe(105);
    const numbers = await readNumbers(made.path);
    expect(numbers.slice(30, 60)).toEqual(range(15, 45));
    expect(numbers.slice(75)).toEqual(range(SECOND + 21, SECOND + 51));
    const crossings = await countCrossings(made.path);
    expect(crossings.slice(0, 98).filter((each) => each > 2)).toEqual([]);
    const sounding = crossings.findIndex((each) => each > 2) / 100;
    expect(Math.abs(sounding - 1)).toBeLessThanOrEqual(0.0214);
    // Both tones have −21.07 dB: so loud they are alone, and over one another at equal power too.
    for (const [from, length] of [
      [1.2, 0.6],
      [2.15, 0.2],
      [2.7, 0.6],
    ] as const)
      expect(await readVolume(made.path, from, length)).toBeCloseTo(-21.1, 0);
    expect(listOpen((await prove(made.path, both, [second])).findings)).toEqual([]);
    const faults = async (recipe: Recipe) =>
      (await prove(made.path, recipe, [second])).findings.filter(({ state }) => state === 'short').length;
    expect(
      await faults({ ...both, card: { ...card, title: 'Nocturne for a long evening' } }),
    ).toBeGreaterThan(0);
    const cut = both.spans.map(({ source, startUs, finishUs }) => ({ source, startUs, finishUs }));
    expect(await faults({ ...both, spans: cut })).toBeGreaterThan(0);
  });

  it('mix brightness evenly from frame to frame, each as it is shown alone', async () => {
    const level = (name: string, gray: string) =>
      makeClip(folder, name, {
        size: '320x240',
        rate: '25',
        seconds: 2,
        filters: `geq=lum=${gray}:cb=128:cr=128`,
      });
    const [dark, light] = [await level('dark.mp4', '60'), await level('light.mp4', '180')];
    const recipe = { ...both, card: null, spans: [span(0, 0, 2), span(1, 0, 2, 0.8)] };
    const made = await make(recipe, [light], dark);
    expect(made.facts.video?.frameCount).toBe(80);
    const lightAt = async (frame: number) => {
      const points = await readFramePoints(made.path, frame, 8);
      return points.reduce((sum, each) => sum + each, 0) / points.length;
    };
    const [start, end] = [await lightAt(10), await lightAt(70)];
    // Limited range: (60 − 16) and (180 − 16) of 219.
    expect(start).toBeCloseTo((44 / 219) * 255, -1);
    expect(end).toBeCloseTo((164 / 219) * 255, -1);
    for (const step of [4, 10, 16])
      expect(Math.abs((await lightAt(30 + step)) - (start + (step / 20) * (end - start)))).toBeLessThan(4);
  });

  it('goes with a turned, cropped and colored picture and another rate; the card stays upright', async () => {
    const recipe: Recipe = {
      ...plain,
      spans: [span(0, 0, 1.5), span(0, 2, 3, 0.4)],
      picture: { ...plain.picture, turnDegrees: 90, crop: { x: 0.1, y: 0, width: 0.8, height: 1 } },
      card,
    };
    const half = [Limit.parse({ id: 'rate', kind: 'frame-rate', max: 15 }), ...limits];
    const { made } = await makeFromTake({
      path: first,
      limits: half,
      recipe,
      outputFolder: join(folder, 'turned'),
    });
    if (!made) throw new TypeError('a made file was expected');
    expect(listOpen(made.findings)).toEqual([]);
    expect(made.facts.video?.frameCount).toBe(15 + 16 + 6 + 9);
    // Words begin at the left margin of an upright card: the left half is the brighter one.
    const { widthPx, heightPx } = made.facts.video ?? { widthPx: 1, heightPx: 1 };
    expect(widthPx).toBeLessThan(heightPx);
    const points = await readFramePoints(made.path, 3, 64);
    const rows = points.length / 3 / 64;
    const mean = (from: number, to: number) =>
      range(0, rows * 64)
        .filter((point) => point % 64 >= from && point % 64 < to)
        .reduce((sum, point) => sum + (points[point * 3] ?? 0), 0);
    expect(mean(5, 32)).toBeGreaterThan(1.1 * mean(37, 64));
  });

  it('joins recordings of sound alone, one dying away under the other', async () => {
    const [low, high] = [await makeTone(300), await makeTone(900)];
    const recipe = { ...both, card: null, spans: [span(0, 0, 2), span(1, 0, 2, 1)] };
    const made = await make(recipe, [high], low);
    expect(listOpen(made.findings)).toEqual([]);
    expect((made.facts.durationUs ?? 0) / 1e6).toBeCloseTo(3, 1);
    const crossings = await countCrossings(made.path);
    expect(crossings.slice(10, 90).every((each) => each < 11)).toBe(true);
    expect(crossings.slice(210, 290).every((each) => each > 13)).toBe(true);
    expect(await readVolume(made.path, 1.3, 0.4)).toBeCloseTo(-21.1, 0);
  });

  it('is refused where a card would stand before sound alone', async () => {
    const sound = await makeTone(400);
    const { refusals } = await makeFromTake({
      path: sound,
      limits,
      recipe: { ...plain, card },
      outputFolder: join(folder, 'none'),
    });
    expect(refusals.map(({ message }) => message)).toEqual(['An opening card stands before a video.']);
  });
});
