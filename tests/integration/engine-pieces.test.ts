import { buildPlan, Limit, type Recipe, type VideoPlan } from '@apodix/core';
import { inspectMedia, makeAhead, makeFile, PieceStore, type MadeFile } from '@apodix/engine';
import { copyFile, mkdtemp, readdir, readFile, rm, stat, truncate } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { buildRecipe } from '../test-support/recipes.ts';
import { makeClip } from '../test-support/sample-media.ts';

const SECONDS = 12;
const limits = [Limit.parse({ id: 's', kind: 'file-size', maxBytes: 300_000 })];

let folder = '';
let path = '';
let take: Awaited<ReturnType<typeof inspectMedia>>;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-pieces-'));
  path = await makeClip(folder, 'take.mp4', {
    ...{ seconds: SECONDS, size: '320x180', filters: 'noise=alls=6:allf=t' },
    video: ['-c:v', 'libx264', '-preset', 'ultrafast', '-crf', '16', '-g', '25'],
  });
  take = await inspectMedia(path, { scratchFolder: folder });
});
afterAll(() => rm(folder, { recursive: true, force: true }));

let count = 0;
/** A plan that is steered as one with samples is. */
function plan(recipe: Recipe) {
  const { facts, series, evidence } = take;
  const whole = buildPlan({ facts, recipe, limits, series, takeName: 'take.mp4', nameContext: null }).plan;
  if (whole?.kind !== 'video') throw new TypeError('A video was expected.');
  const model = { crf: 25.5, slope: 6, sampledShare: 0.2 };
  const own: VideoPlan = { ...whole, rate: { ...whole.rate, model } };
  return {
    ...{ sourcePath: path, facts, series, evidence, plan: own },
    judge: { limits, nameContext: null },
    outputPath: join(folder, `made-${(count += 1)}.mp4`),
  };
}
const openStore = (name: string) => new PieceStore(join(folder, name));
const listPieces = async (name: string) =>
  (await readdir(join(folder, name), { recursive: true })).filter((each) => each.endsWith('.mp4')).sort();
const listSounds = async (name: string) =>
  (await readdir(join(folder, name), { recursive: true })).filter((each) => each.endsWith('.m4a'));
/** The pieces that making left in a store beside those that were there. */
async function listNew(name: string, recipe: Recipe): Promise<{ made: MadeFile; fresh: string[] }> {
  const before = await listPieces(name).catch((): string[] => []);
  const made = await makeFile({ ...plan(recipe), store: openStore(name) });
  return { made, fresh: (await listPieces(name)).filter((each) => !before.includes(each)) };
}

describe('pieces', () => {
  it('give the same bytes for the same input, side by side as they are', async () => {
    const recipe = buildRecipe({ isMirrored: true });
    const files = [await makeFile(plan(recipe)), await makeFile(plan(recipe))];
    const [one, other] = await Promise.all(files.map((file) => readFile(file.path)));
    expect(one?.equals(other ?? Buffer.alloc(0))).toBe(true);
    expect(files[0]?.findings.filter(({ state }) => state === 'short')).toEqual([]);
    expect(one?.length).toBeGreaterThan(291_000);
  });

  it('are used again: a changed sound costs no picture, a moved edge its piece', async () => {
    const first = await listNew('again', buildRecipe({ isMirrored: true }));
    expect(first.fresh.length).toBeGreaterThanOrEqual(SECONDS / 2);

    const louder = await listNew('again', buildRecipe({ isMirrored: true, soundGainDb: -3 }));
    expect(louder.fresh).toEqual([]);
    expect(louder.made.everyMustMet).toBe(true);

    const turned = await listNew('again', buildRecipe({ isMirrored: false, turnDegrees: 180 }));
    expect(turned.fresh.length).toBeGreaterThanOrEqual(SECONDS / 2);

    // All but the first show what they showed. Some may be coded finer, as there is more room for each.
    const known = new Set((await listPieces('again')).map((each) => dirname(each)));
    const keep = { startUs: 240_000, finishUs: SECONDS * 1e6 };
    const trimmed = await listNew('again', buildRecipe({ isMirrored: true, keep }));
    const other = new Set(trimmed.fresh.map((each) => dirname(each)).filter((each) => !known.has(each)));
    expect(other.size).toBe(1);
    expect(trimmed.made.findings.filter(({ state }) => state === 'short')).toEqual([]);
  });

  it('are coded ahead without a file, and what is pressed then is the same as without', async () => {
    const recipe = buildRecipe({ turnDegrees: 180 });
    const { outputPath, judge, evidence, ...planned } = plan(recipe);
    const told: number[] = [];
    await makeAhead({
      ...planned,
      store: openStore('ahead'),
      scratchFolder: folder,
      onProgress: ({ stage, share }) => void (stage === 'Getting ahead' && told.push(share)),
    });
    expect(told.at(-1)).toBeGreaterThan(0.9);
    await expect(stat(outputPath)).rejects.toThrow();
    const before = await listPieces('ahead');
    const [sound = ''] = await listSounds('ahead');
    const { ino } = await stat(join(folder, 'ahead', sound));
    const pressed = await makeFile({ ...planned, judge, evidence, outputPath, store: openStore('ahead') });
    expect(await listPieces('ahead')).toEqual(before);
    expect((await stat(join(folder, 'ahead', sound))).ino).toBe(ino);
    const alone = await makeFile(plan(recipe));
    expect((await readFile(pressed.path)).equals(await readFile(alone.path))).toBe(true);
    expect(pressed.comparison.picture?.framesCompared).toBe(alone.comparison.picture?.framesCompared);
  });

  it('that show something else are found out, and not used again', async () => {
    const recipe = buildRecipe({ isMirrored: true });
    await makeFile({ ...plan(recipe), store: openStore('spoiled') });
    const stored = await listPieces('spoiled');
    // Of those that were coded once, the two that are nearest in size: steering takes such a one as it is.
    const alone = stored.filter(
      (each) => stored.filter((one) => dirname(one) === dirname(each)).length === 1,
    );
    const sizes = await Promise.all(
      alone.map(async (each) => (await stat(join(folder, 'spoiled', each))).size),
    );
    const pairs = alone.flatMap((one, at) =>
      alone.slice(at + 1).map((other, after) => ({
        ...{ one, other },
        apart: Math.abs((sizes[at] ?? 0) - (sizes[at + 1 + after] ?? 0)),
      })),
    );
    const [nearest] = pairs.sort((left, right) => left.apart - right.apart);
    if (!nearest) throw new TypeError('Two pieces were expected.');
    // One takes the place of the other, frame for frame and form for form.
    const place = join(folder, 'spoiled', nearest.one);
    await rm(place);
    await copyFile(join(folder, 'spoiled', nearest.other), place);
    const wrong = await makeFile({ ...plan(recipe), store: openStore('spoiled') });
    expect(await listPieces('spoiled')).not.toContainEqual(expect.stringContaining(dirname(nearest.one)));
    expect(wrong.everyMustMet && wrong.findings.every(({ state }) => state !== 'short')).toBe(false);
    const right = await makeFile({ ...plan(recipe), store: openStore('spoiled') });
    expect(right.findings.filter(({ state }) => state === 'short')).toEqual([]);
  });

  it('have their sound beside them: one that is another is found out, and not used again', async () => {
    const [plain, softer] = [0, -12].map((soundGainDb) => buildRecipe({ isMirrored: true, soundGainDb }));
    if (!plain || !softer) throw new TypeError('Two recipes were expected.');
    await makeFile({ ...plan(plain), store: openStore('heard') });
    const [own = '', ...none] = await listSounds('heard');
    expect(none).toEqual([]);
    await makeFile({ ...plan(softer), store: openStore('heard') });
    const other = (await listSounds('heard')).find((each) => each !== own) ?? '';
    await rm(join(folder, 'heard', own));
    await copyFile(join(folder, 'heard', other), join(folder, 'heard', own));
    const wrong = await makeFile({ ...plan(plain), store: openStore('heard') });
    expect(wrong.findings).toContainEqual(expect.objectContaining({ row: 'loudness', state: 'short' }));
    expect(await listSounds('heard')).toEqual([other]);
  });

  it('that are cut off in the store are coded anew', async () => {
    const recipe = buildRecipe({ isMirrored: true });
    await makeFile({ ...plan(recipe), store: openStore('cut') });
    const [one = ''] = await listPieces('cut');
    const [sound = ''] = await listSounds('cut');
    for (const each of [one, sound]) await truncate(join(folder, 'cut', each), 100);
    const { made } = await listNew('cut', recipe);
    expect(made.findings.filter(({ state }) => state === 'short')).toEqual([]);
    // It may be coded a little finer or coarser this time.
    const key = dirname(one);
    const sizes = (await listPieces('cut'))
      .filter((each) => dirname(each) === key)
      .map(async (each) => (await stat(join(folder, 'cut', each))).size);
    expect(Math.max(...(await Promise.all(sizes)))).toBeGreaterThan(100);
  });
});
