import { inspectMedia, proveMade, proveTake, type Inspected } from '@apodix/engine';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { buildOwnRecipe, makeRightFile, makeWrongFile } from '../sabotage/make-files.ts';
import { rightFiles } from '../sabotage/right-files.ts';
import { makeBrightTake, makeMovingTake, makeOtherTake, makeWanderingTake } from '../sabotage/takes.ts';
import { wrongFiles } from '../sabotage/wrong-files.ts';

let folder = '';
const takes = new Map<string, Inspected>();

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-sabotage-'));
  await Promise.all([makeMovingTake(folder), makeOtherTake(folder)]);
  await makeBrightTake(folder);
  await makeWanderingTake(folder);
  for (const name of ['take.mp4', 'bright.mov', 'wandering.mp4'])
    takes.set(join(folder, name), await inspectMedia(join(folder, name), { scratchFolder: folder }));
}, 120_000);
afterAll(() => rm(folder, { recursive: true, force: true }));

/** Rows of the proof that are not met, and how each stands. */
async function listUnmet(
  file: { madePath: string; sourcePath: string },
  changes: Parameters<typeof buildOwnRecipe>[0],
) {
  const take = takes.get(file.sourcePath);
  if (!take) throw new Error('No such take.');
  const { findings } = await proveMade({
    madePath: file.madePath,
    recipe: buildOwnRecipe(changes),
    take,
    timeline: null,
    isSoundWanted: null,
  });
  return findings.filter(({ state }) => state !== 'met').map(({ row, state }) => `${row} ${state}`);
}

describe('a file that other hands made wrong', () => {
  it.each(wrongFiles.filter((file) => file.isShort).map((file) => [file.name, file] as const))(
    'is not proven: %s',
    async (_name, file) => {
      const made = await makeWrongFile(file, folder, wrongFiles.indexOf(file));
      expect(await listUnmet(made, file)).toContainEqual(expect.stringMatching(/ short$/));
      await rm(made.madePath);
    },
    60_000,
  );
});

describe('a file that other hands made right', () => {
  it.each(rightFiles.filter((file) => file.isShort).map((file) => [file.name, file] as const))(
    'is proven: %s',
    async (_name, file) => {
      const made = await makeRightFile(file, folder, rightFiles.indexOf(file));
      expect(await listUnmet(made, file)).toEqual([]);
      await rm(made.madePath);
    },
    60_000,
  );

  it('is held in full as the command line does it, clarity with it, at a size that is not square to the point', async () => {
    const file = rightFiles.find((each) => each.name === 'H.264 of 480 lines at 28');
    if (!file) throw new Error('No such file.');
    const made = await makeRightFile(file, folder, 99);
    const proof = await proveTake({
      ...made,
      recipe: buildOwnRecipe(file),
      limits: [],
      scratchFolder: folder,
    });
    expect(proof.isProven).toBe(true);
    const clarity = proof.findings.find((finding) => finding.of === 'proof' && finding.row === 'clarity');
    expect(clarity?.value).toBeGreaterThan(0.8);
    expect(clarity?.value).toBeLessThan(1);
  }, 60_000);
});
