import { buildPlan, Limit, type Recipe } from '@apodix/core';
import { inspectMedia, makeFile, makeFromTake, proveMade, proveTake } from '@apodix/engine';
import { execa } from 'execa';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { listOpen, listShort } from '../test-support/findings.ts';
import { buildRecipe } from '../test-support/recipes.ts';
import { makeClip, readToneLevels, readVolume, SCORE } from '../test-support/sample-media.ts';

let folder = '';
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-sound-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const limit = Limit.parse({ id: 'size', kind: 'file-size', maxBytes: 900_000 });
/** Only the sound matters. */
const SMALL = { size: '160x120', rate: '10', filters: 'null' };
let count = 0;

describe('a mended sound', () => {
  let stereo = '';
  let heard: Awaited<ReturnType<typeof inspectMedia>>;
  // Music on the left with hum and a thump below 30 Hz; the right side is all but dead.
  const SCENE =
    "aevalsrc='0.2*sin(2*PI*(300+60*t)*t)*(0.6+0.4*sin(2*PI*1.3*t))+0.02*sin(2*PI*50*t)+0.012*sin(2*PI*150*t)" +
    "+0.008*sin(2*PI*250*t)+0.05*sin(2*PI*22*t)|0.0004*sin(2*PI*440*t)':s=44100";
  beforeAll(async () => {
    stereo = await makeClip(folder, 'stereo.mp4', {
      ...SMALL,
      seconds: 6,
      sound: SCENE,
      audio: ['-c:a', 'aac', '-b:a', '192k'],
    });
    heard = await inspectMedia(stereo, { scratchFolder: folder });
  });

  async function makeSounding(changes: Partial<Recipe['sound']>) {
    const { facts, series, evidence } = heard;
    const recipe = buildRecipe({ sound: changes });
    const judge = { limits: [limit], nameContext: null };
    const { plan } = buildPlan({ facts, recipe, series, takeName: 'take.mp4', ...judge });
    if (!plan) throw new TypeError('a plan was expected');
    const outputPath = join(folder, `sounding-${(count += 1)}.mp4`);
    const made = await makeFile({ sourcePath: stereo, facts, series, evidence, plan, judge, outputPath });
    return { made, recipe };
  }
  /** What holding it against a recipe finds, from what is known of the recording. */
  const hold = async (madePath: string, recipe: Recipe) =>
    (await proveMade({ madePath, recipe, take: heard, timeline: null, isSoundWanted: null })).findings;
  const prove = async (madePath: string, recipe: Recipe) =>
    (await proveTake({ madePath, sourcePath: stereo, recipe, limits: [limit], scratchFolder: folder }))
      .findings;

  it('one side on both, hum and rumble out, later, with fades: made, heard so, and proven', async () => {
    const { made, recipe } = await makeSounding({
      sides: 'left',
      humHz: 50,
      isRumbleCut: true,
      laterUs: 200_000,
      fadeInUs: 500_000,
      fadeOutUs: 800_000,
    });
    expect(listOpen(made.findings)).toEqual([]);
    expect(listOpen(await prove(made.path, recipe))).toEqual([]);
    expect(listShort(await hold(made.path, buildRecipe()))).toContain('sound');
    const levels = await readToneLevels(made.path, [22, 50, 150, 1000]);
    const before = await readToneLevels(stereo, [22, 50, 150, 1000]);
    for (const [index, least] of [18, 20, 20].entries())
      expect((before[index] ?? 0) - (levels[index] ?? 0)).toBeGreaterThan(least);
  });

  it.each([
    ['later than asked', { laterUs: 60_000 }, {}, 'step'],
    ['from the dead side', { sides: 'right' as const }, {}, 'sound'],
    ['faded where nothing was to fade', { fadeOutUs: 2_500_000 }, {}, 'sound'],
  ])('is found out: %s', async (_name, own, asked, row) => {
    const { made } = await makeSounding(own);
    expect(listShort(await hold(made.path, buildRecipe({ sound: asked })))).toContain(row);
  });

  it('a limiter holds true peaks below −1 dBTP where the gain would drive them over', async () => {
    const { made } = await makeSounding({ gainDb: 14, isLimited: true });
    expect(made.facts.sound?.truePeakDbtp).toBeLessThanOrEqual(-1);
    expect(listOpen(made.findings)).toEqual([]);
  });
});

describe('a separate recording of the sound', () => {
  let film = '';
  let better = '';
  beforeAll(async () => {
    film = await makeClip(folder, 'film.mp4', {
      ...SMALL,
      seconds: 14,
      sound: SCORE,
      extra: ['-af', 'volume=-14dB,highpass=f=300,aecho=0.7:0.6:37|61:0.4|0.3'],
    });
    // Begun 2.5 s later than the film, on a recorder of its own: louder, dry, to the end of the film.
    better = join(folder, 'better.wav');
    await execa('ffmpeg', [
      ...['-v', 'error', '-y', '-f', 'lavfi', '-i', `${SCORE}:d=14`, '-ss', '2.5', '-ar', '44100', better],
    ]);
  });

  it('is mixed with the own sound where that is wished, as loud as both really are, and proven', async () => {
    const loud = await makeClip(folder, 'loud.mp4', {
      ...SMALL,
      seconds: 10,
      sound: SCORE,
      extra: ['-af', 'volume=-2dB,aecho=0.7:0.6:37|61:0.4|0.3'],
    });
    const volumeOf = async (ownDb: number | null) => {
      const recipe = buildRecipe({ keep: { startUs: 4_000_000, finishUs: 9_000_000 }, sound: { ownDb } });
      const outputFolder = join(folder, `mixed${ownDb ?? ''}`);
      const { made } = await makeFromTake({
        path: loud,
        limits: [limit],
        recipe,
        soundPath: better,
        outputFolder,
      });
      if (!made) throw new TypeError('a made file was expected');
      expect(listOpen(made.findings)).toEqual([]);
      return readVolume(made.path, 0, 5);
    };
    const [alone, both] = [await volumeOf(null), await volumeOf(-2)];
    expect(both - alone).toBeGreaterThan(1);
  });

  it('is laid on the picture, heard in its place, and proven; another sound is refused', async () => {
    const out = join(folder, 'laid');
    const { made, recipe } = await makeFromTake({
      path: film,
      limits: [limit],
      recipe: buildRecipe({ keep: { startUs: 4_000_000, finishUs: 12_000_000 } }),
      soundPath: better,
      outputFolder: out,
    });
    const source = recipe.sources[1];
    expect(source?.role).toBe('sound');
    expect(Math.abs((source?.offsetUs ?? 0) - 2_500_000)).toBeLessThan(5000);
    expect(listOpen(made?.findings ?? [])).toEqual([]);
    // The film's own sound is 14 dB quieter and more; what is heard is as loud as the better one.
    const { facts } = await inspectMedia(film, { scratchFolder: folder });
    expect((made?.facts.sound?.loudnessLufs ?? -99) - (facts.sound?.loudnessLufs ?? 0)).toBeGreaterThan(10);
    const foreign = join(folder, 'foreign.wav');
    const rain = 'anoisesrc=c=pink:d=12:a=0.2,tremolo=f=0.7:d=0.9';
    await execa('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', rain, foreign]);
    await expect(
      makeFromTake({ path: film, limits: [limit], recipe: null, soundPath: foreign, outputFolder: out }),
    ).rejects.toMatchObject({ detail: expect.stringContaining('does not belong') as string });
  });
});
