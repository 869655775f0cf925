import { buildPlan, type Limit, type Recipe } from '@apodix/core';
import { execa } from 'execa';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { buildLimits, makePrepared, prepareTake } from '../test-support/prepared-takes.ts';
import { buildRecipe } from '../test-support/recipes.ts';
import { makeClip, probe, readFrameThumbs } from '../test-support/sample-media.ts';
import { BT709_ARGS } from '../test-support/bt709-args.ts';

let folder = '';
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-copy-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

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
  ...BT709_ARGS,
];

/** From a take to what it becomes under these limits. */
const make = async (name: string, path: string, limits: Limit[], recipe?: Recipe) =>
  (await makePrepared(join(folder, name), path, await prepareTake(folder, path, limits, recipe))).made;

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

describe('taking the coded picture over', () => {
  it('wraps a recording that meets the limits anew: every packet the same, index first, private notes gone', async () => {
    const path = await makeClip(folder, 'wrap.mov', {
      seconds: 4,
      video: TAGGED,
      extra: ['-metadata', 'location=+52.5-001.2/'],
    });
    const limits = buildLimits(
      { kind: 'format', wanted: ['mp4'] },
      { kind: 'file-size', maxBytes: 50_000_000 },
      { kind: 'location-removed' },
    );
    const made = await make('wrap', path, limits);
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
    const limits = buildLimits({ kind: 'file-size', maxBytes: 50_000_000 });
    const made = await make('cut', path, limits, buildRecipe({ keep }));
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
      await prepareTake(
        folder,
        path,
        buildLimits({ kind: 'file-size', maxBytes: 50_000_000 }),
        buildRecipe({ turnDegrees: 90 }),
      ),
    );
    expect(plan).toMatchObject({ kind: 'video', method: 'code' });
  });
});

it('takes the sound alone out of a video where sound is what is wanted', async () => {
  const path = await makeClip(folder, 'talk.mp4', { seconds: 3 });
  const limits = buildLimits({ kind: 'format', wanted: ['mp3'] }, { kind: 'file-size', maxBytes: 200_000 });
  const made = await make('talk', path, limits);
  expect(made.facts).toMatchObject({ kind: 'sound', container: 'mp3', video: null });
  expect(made.findings.find((finding) => finding.of === 'proof' && finding.row === 'step')?.state).toBe(
    'met',
  );
});
