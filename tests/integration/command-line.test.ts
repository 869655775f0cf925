import { execa } from 'execa';
import { mkdir, mkdtemp, readFile, rm, stat, symlink, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import sharp from 'sharp';
import { H, W } from '../../packages/core/src/test-support/glare-scene.ts';
import {
  composePerformance,
  recordPerformance,
  type Microphone,
} from '../../packages/core/src/test-support/sound-scene.ts';
import { buildTakeScene } from '../../packages/core/src/test-support/take-scene.ts';
import { shootBoard } from '../test-support/board-shots.ts';
import { buildRecipe } from '../test-support/recipes.ts';
import { photographPiece, PIECE_CORNERS } from '../test-support/piece-photo.ts';
import { makeClip } from '../test-support/sample-media.ts';

const program = join(import.meta.dirname, '../../packages/engine/dist/bundled/main.js');
let folder = '';
let take = '';
let copied = '';

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-command-'));
  await mkdir(join(folder, 'takes'));
  take = await makeClip(join(folder, 'takes'), 'take.mp4', { seconds: 2 });
  copied = join(folder, 'copied.mp4');
  await execa('ffmpeg', ['-v', 'error', '-i', take, '-c', 'copy', '-movflags', '+faststart', copied]);
}, 60_000);
afterAll(() => rm(folder, { recursive: true, force: true }));

interface Answer {
  readonly isProven?: boolean;
  readonly leftToPerson?: readonly string[];
  readonly findings?: readonly { readonly row?: string; readonly state: string; readonly method: string }[];
}

async function run(...args: readonly string[]) {
  const node = [program, ...args];
  const { exitCode, stdout, stderr } = await execa('node', node, { reject: false });
  return { exitCode, stderr, answer: stdout === '' ? {} : (JSON.parse(stdout) as Answer) };
}
const prove = (made: string, asks: string, ...more: readonly string[]) =>
  run('prove', made, '--source', take, '--asks', asks, ...more);

describe('apodix prove MADE --source TAKE', () => {
  it('ends with 0 where every must and every row of the proof is met, and says what each rests on', async () => {
    const { exitCode, answer } = await prove(copied, 'MP4, at most 5 MB.');
    expect(answer.findings?.filter(({ state }) => state !== 'met')).toEqual([]);
    expect(answer.findings?.flatMap(({ row }) => row ?? [])).toEqual(
      expect.arrayContaining([
        'whole',
        'frames',
        'picture',
        'order',
        'geometry',
        'color',
        'clarity',
        'sound',
      ]),
    );
    expect(answer.findings?.every(({ method }) => method !== '')).toBe(true);
    expect([exitCode, answer.isProven, answer.leftToPerson]).toEqual([0, true, []]);
  }, 60_000);

  it('ends with 1 where a limit falls short, and where the file is not the take', async () => {
    const tight = await prove(copied, 'MP4, at most 20 kB.');
    expect([tight.exitCode, tight.answer.isProven]).toEqual([1, false]);
    const other = await makeClip(folder, 'other.mp4', { seconds: 2, filters: 'hflip,hue=h=120' });
    const wrong = await prove(other, 'MP4, at most 5 MB.');
    expect([wrong.exitCode, wrong.answer.isProven]).toEqual([1, false]);
    expect(wrong.answer.findings?.find(({ row }) => row === 'picture')?.state).toBe('short');
  }, 60_000);

  it('ends with 5, and names what a person has to look at, where no machine can tell', async () => {
    const { exitCode, answer } = await prove(copied, 'MP4, at most 5 MB, filmed in one take.');
    expect([exitCode, answer.isProven, answer.leftToPerson]).toEqual([5, false, ['One unbroken take']]);
  }, 60_000);

  it('follows a recipe, and tells a part that begins one frame late', async () => {
    const recipe = join(folder, 'recipe.json');
    const keep = { startUs: 400_000, finishUs: 1_400_000 };
    await writeFile(recipe, JSON.stringify(buildRecipe({ keep })));
    const cut = async (name: string, start: number) => {
      const at = [start / 25, start / 25 + 1];
      const filters = [
        `[0:v]trim=start_frame=${start}:end_frame=${start + 25},setpts=N/25/TB[v]`,
        `[0:a]atrim=${at.join(':')},asetpts=PTS-STARTPTS[a]`,
      ];
      const path = join(folder, name);
      const maps = ['-map', '[v]', '-map', '[a]', '-c:v', 'libx264', '-crf', '18', '-c:a', 'aac'];
      await execa('ffmpeg', ['-v', 'error', '-i', take, '-filter_complex', filters.join(';'), ...maps, path]);
      return prove(path, 'MP4.', '--recipe', recipe);
    };
    const right = await cut('right.mp4', 10);
    expect(right.answer.findings?.filter(({ state }) => state !== 'met')).toEqual([]);
    expect(right.exitCode).toBe(0);
    const late = await cut('late.mp4', 11);
    expect(late.exitCode).toBe(1);
    expect(late.answer.findings?.find(({ row }) => row === 'order')?.state).toBe('short');
  }, 60_000);
});

describe('what is read', () => {
  it('is never written over, by whatever name its folder goes', async () => {
    const before = await readFile(take);
    await symlink(join(folder, 'takes'), join(folder, 'linked'));
    const out = ['--asks', 'MP4, at most 1 MB.', '--out', join(folder, 'linked')];
    const made = await run('make', take, ...out);
    expect([made.exitCode, made.stderr]).toEqual([2, expect.stringContaining('would replace the take')]);
    const report = await run('inspect', take, '--report', join(folder, 'linked', 'take.mp4'));
    expect(report.exitCode).toBe(2);
    expect(report.stderr).toContain('would write over');
    expect(before.equals(await readFile(take))).toBe(true);
    expect((await stat(take)).size).toBe(before.length);
  }, 60_000);
});

describe('apodix inspect', () => {
  it('tells facts, what was noticed, and with --series what runs along the file', async () => {
    const out = join(folder, 'series');
    const { exitCode, answer } = await run('inspect', take, '--series', out);
    expect(exitCode).toBe(0);
    expect(answer).toMatchObject({
      kind: 'video',
      video: { frameCount: 50 },
      noticed: expect.any(Array) as unknown,
    });
    const read = async (name: string) => (await readFile(join(out, name), 'utf8')).trim().split('\r\n');
    const frames = await read('frames.csv');
    expect(frames[0]).toBe('frame,time_us,is_keyframe,brightness,movement');
    expect(frames).toHaveLength(51);
    // 25 a second from the start; the first one is a keyframe.
    expect(frames[1]).toMatch(/^0,0,1,/);
    expect(frames[50]).toMatch(/^49,1960000,/);
    expect((await read('sound.csv')).length).toBeGreaterThan(195);
    expect((await read('loudness.csv')).length).toBeGreaterThan(18);
    const [head, look] = await read('sharpness.csv');
    expect([head, look?.slice(0, 11)]).toEqual(['frame,time_us,blur', '25,1000000,']);
  });
});

describe('apodix propose PHOTO', () => {
  it('tells what was seen without any limits, and make takes its answer', async () => {
    const photo = await photographPiece(folder, 'desk.png');
    const { exitCode, answer } = await run('propose', photo);
    expect(exitCode).toBe(0);
    const told = answer as {
      corners?: { x: number; y: number }[];
      confidence?: number;
      light?: { by: string };
      target?: unknown;
      recipe?: object;
    };
    told.corners?.forEach(({ x, y }, index) => {
      const wanted = PIECE_CORNERS[index as 0];
      expect(Math.abs(x - wanted.x) + Math.abs(y - wanted.y)).toBeLessThan(6);
    });
    expect(told.confidence).toBeGreaterThan(0.6);
    expect([told.light?.by, told.target]).toEqual(['margin', null]);
    expect(told.recipe).toMatchObject({ version: 2, picture: { flatten: {} } });
    const path = join(folder, 'proposal.json');
    await writeFile(path, JSON.stringify(answer));
    const out = join(folder, 'proposed');
    const asks = ['--asks', 'A JPEG of at most 1 MB.'];
    const made = await run('make', photo, ...asks, '--recipe', path, '--out', out);
    expect(made.exitCode).toBe(0);
    expect((made.answer as { recipe?: object }).recipe).toEqual(told.recipe);
  });
});

describe('apodix align', () => {
  it('lays a recorder\u2019s sound on a film, whatever their codings and rates, and says when there is no place', async () => {
    const microphone: Microphone = {
      seed: 1,
      startS: 2,
      lengthS: 14,
      clockPpm: 0,
      echoS: 0.6,
      echoShare: 0.6,
      noiseDb: -20,
      gain: 0.5,
    };
    const write = async (name: string, performance: number, changes: Partial<Microphone>, args: string[]) => {
      const samples = recordPerformance(
        composePerformance(performance, 30),
        { ...microphone, ...changes },
        48_000,
      );
      const path = join(folder, name);
      const raw = ['-f', 'f32le', '-ar', '48000', '-ac', '1', '-i', 'pipe:0'];
      await execa('ffmpeg', ['-v', 'error', ...raw, ...args, '-y', path], {
        input: Buffer.from(samples.buffer),
      });
      return path;
    };
    const picture = ['-f', 'lavfi', '-i', 'testsrc2=s=160x120:r=25:d=14', '-map', '1:v', '-map', '0:a'];
    const film = await write('film.mp4', 1, {}, [...picture, '-c:v', 'libx264', '-c:a', 'aac']);
    const own = { seed: 8, startS: 5.4321, lengthS: 12, gain: 0.1, noiseDb: -30 };
    const sound = await write('recorder.wav', 1, own, ['-ar', '44100', '-c:a', 'pcm_s24le']);
    const found = await run('align', film, sound);
    expect(found.exitCode).toBe(0);
    const answer = found.answer as { offsetUs: number; belongTogether: boolean };
    expect(Math.abs(answer.offsetUs - 3_432_100)).toBeLessThan(5000);
    const other = await run('align', film, await write('other.wav', 2, own, []));
    expect([other.exitCode, other.answer]).toEqual([5, expect.objectContaining({ belongTogether: false })]);
    expect((await run('align', film)).exitCode).toBe(2);
    const silent = await makeClip(folder, 'silent.mp4', { seconds: 1, audio: null });
    expect((await run('align', silent, sound)).exitCode).toBe(3);
  });
});

describe('apodix suggest', () => {
  it('tells onset and decay of a performance without margin, by its subject, and that it is not sure', async () => {
    const scene = buildTakeScene(2, 'bowed', 10, 48_000);
    const path = join(folder, 'hall.flac');
    const raw = ['-f', 'f32le', '-ar', '48000', '-ac', '1', '-i', 'pipe:0'];
    await execa('ffmpeg', ['-v', 'error', ...raw, path], { input: Buffer.from(scene.samples.buffer) });
    const found = await run('suggest', path, '--subject', 'music');
    const answer = found.answer as unknown as { startUs: number; finishUs: number; isSure: boolean };
    expect([found.exitCode, answer.isSure]).toEqual([0, true]);
    expect(Math.abs(answer.startUs / 1e6 - scene.onsetS)).toBeLessThan(0.3);
    expect(Math.abs(answer.finishUs / 1e6 - scene.decayS)).toBeLessThan(0.3);
    expect((await run('suggest', path, '--subject', 'juggling')).exitCode).toBe(2);
    expect((await run('suggest', path, '--subject', 'pe')).exitCode).toBe(5);
  });
});

describe('apodix merge', () => {
  it('writes one photograph of two shots, and never over one of them', async () => {
    const [first, second] = await shootBoard(folder, 'png');
    const { exitCode, answer } = await run('merge', first, second, '--out', folder);
    const merged = answer as { path: string; replacedShare: number; offPx: number };
    expect([exitCode, merged.path]).toEqual([0, join(folder, 'board merged.jpg')]);
    expect(merged.replacedShare).toBeGreaterThan(0.005);
    expect(merged.offPx).toBeLessThan(1);
    expect(await sharp(merged.path).metadata()).toMatchObject({ format: 'jpeg', width: W, height: H });
    const wrong = await Promise.all([
      run('merge', first, '--out', folder),
      run('merge', first, second),
      run('merge', merged.path.replace(' merged', ''), second, '--out', folder),
    ]);
    expect(wrong.map((each) => each.exitCode)).toEqual([2, 2, 2]);
  });
});
