import { makeFromTake } from '@apodix/engine';
import { Limit } from '@apodix/core';
import { execa } from 'execa';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { itLong } from '../test-support/long.ts';
import { makeClip } from '../test-support/sample-media.ts';
import { buildRecipe } from '../test-support/recipes.ts';

let folder = '';
beforeAll(async () => (folder = await mkdtemp(join(tmpdir(), 'apodix-long-'))));
afterAll(() => rm(folder, { recursive: true, force: true }));

const limits = [
  Limit.parse({ id: 'size', kind: 'file-size', maxBytes: 4_000_000 }),
  Limit.parse({ id: 'format', kind: 'format', wanted: ['mp4'] }),
];

async function listUnmet(path: string, recipe: ReturnType<typeof buildRecipe>, name: string) {
  const { made } = await makeFromTake({ path, limits, recipe, outputFolder: join(folder, name) });
  if (!made) throw new Error('Nothing was made.');
  return { unmet: made.findings.filter(({ state }) => state !== 'met').map((each) => each.sentence), made };
}

itLong(
  'a performance of a minute is made and proven whole, coded and taken over',
  async () => {
    const path = await makeClip(folder, 'long.mp4', {
      seconds: 64,
      rate: '10',
      size: '160x120',
      filters: 'null',
    });
    const coded = await listUnmet(path, buildRecipe({ isMirrored: true }), 'coded');
    expect(coded.unmet).toEqual([]);
    expect(coded.made.facts.video?.frameCount).toBe(640);
    const cut = await listUnmet(
      path,
      buildRecipe({ keep: { startUs: 5_010_000, finishUs: 60_000_000 } }),
      'cut',
    );
    expect(cut.unmet).toEqual([]);
    expect(cut.made.facts.video?.frameCount).toBe(550);
  },
  300_000,
);

it('a picture that begins after its sound stays in step with it', async () => {
  const clip = await makeClip(folder, 'whole.mp4', { seconds: 5 });
  const path = join(folder, 'late.mp4');
  const args = ['-itsoffset', '0.3', '-i', clip, '-i', clip, '-map', '0:v', '-map', '1:a', '-c', 'copy'];
  await execa('ffmpeg', ['-v', 'error', ...args, path]);
  const { unmet, made } = await listUnmet(path, buildRecipe({ isMirrored: true }), 'late');
  expect(unmet).toEqual([]);
  expect(made.facts.video?.frameCount).toBeGreaterThan(120);
}, 120_000);
