import { Limit, createPlainRecipe, type Recipe } from '@apodix/core';
import { makeFromTake, proveTake } from '@apodix/engine';
import { execa } from 'execa';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { itLong } from '../test-support/long.ts';
import { listOpen } from '../test-support/findings.ts';

let folder = '';
let shaky = '';
const [W, H] = [640, 360];
/** A still scene with a white square on black in its middle, filmed by a hand that trembles and leans. */
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-steady-'));
  shaky = join(folder, 'shaky.mp4');
  const scene = [
    'trim=end_frame=1',
    'loop=loop=200:size=1',
    'setpts=N/30/TB',
    'format=yuv444p',
    'eq=contrast=0.4:brightness=0.05:saturation=0.4',
    "drawbox=x='180+130*t':y='420-60*t':w=90:h=90:color=0x304090:t=fill",
    'drawbox=x=430:y=250:w=100:h=100:color=black:t=fill',
    'drawbox=x=470:y=290:w=20:h=20:color=white:t=fill',
    "rotate=a='0.012*sin(2*PI*t*2.3)':ow=iw:oh=ih",
    `crop=${W}:${H}:x='160+9*sin(2*PI*t*3.1)+6*t':y='120+7*cos(2*PI*t*2.7)'`,
    'noise=alls=4:allf=t',
  ];
  await execa('ffmpeg', [
    ...['-v', 'error', '-f', 'lavfi', '-i', 'testsrc2=s=960x600:r=30:d=1', '-f', 'lavfi'],
    ...['-i', 'aevalsrc=0.125*sin(2*PI*(300+60*t)*t):s=48000:d=4', '-vf', scene.join(','), '-t', '4'],
    ...['-c:v', 'libx264', '-preset', 'ultrafast', '-crf', '14', '-pix_fmt', 'yuv420p', shaky],
  ]);
});
afterAll(() => rm(folder, { recursive: true, force: true }));

interface Looked {
  /** Middle of the white square in every frame, in points. */
  readonly middles: readonly { readonly x: number; readonly y: number }[];
  /** The darkest point along the edges of any frame. */
  readonly darkestEdge: number;
}

/** Looks at every frame by another road than the house's own. */
async function look(path: string): Promise<Looked> {
  const args = ['-v', 'error', '-i', path, '-vf', `scale=${W}:${H},format=gray`, '-f', 'rawvideo', '-'];
  const { stdout } = await execa('ffmpeg', args, { encoding: 'buffer', maxBuffer: 1 << 30 });
  const middles: { x: number; y: number }[] = [];
  let darkestEdge = 255;
  for (let from = 0; from + W * H <= stdout.length; from += W * H) {
    let [sum, sumX, sumY] = [0, 0, 0];
    for (let y = H / 4; y < (3 * H) / 4; y += 1)
      for (let x = W / 4; x < (3 * W) / 4; x += 1) {
        const level = Math.max(0, (stdout[from + y * W + x] ?? 0) - 215);
        [sum, sumX, sumY] = [sum + level, sumX + level * x, sumY + level * y];
      }
    middles.push({ x: sumX / sum, y: sumY / sum });
    for (let x = 0; x < W; x += 1)
      for (const y of [0, H - 1]) darkestEdge = Math.min(darkestEdge, stdout[from + y * W + x] ?? 0);
  }
  return { middles, darkestEdge };
}

/** How far the square jumps from frame to frame, root mean square, in points. */
function measureJumps({ middles }: Looked): number {
  const jumps = middles.slice(1).map(({ x, y }, index) => {
    const before = middles[index] ?? { x, y };
    return (x - before.x) ** 2 + (y - before.y) ** 2;
  });
  return Math.sqrt(jumps.reduce((sum, each) => sum + each, 0) / jumps.length);
}

const limits = [Limit.parse({ id: 'size', kind: 'file-size', maxBytes: 4_000_000 })];
const plain = createPlainRecipe();
const recipe: Recipe = { ...plain, picture: { ...plain.picture, steady: 0.5 } };
let count = 0;
async function make(own: Recipe) {
  const outputFolder = join(folder, `out-${(count += 1)}`);
  const result = await makeFromTake({ path: shaky, limits, recipe: own, outputFolder });
  if (!result.made) throw new TypeError(`a made file was expected: ${JSON.stringify(result.refusals)}`);
  return result.made;
}

describe('a hand that shakes', () => {
  it('is steadied to a quarter at the most, without empty edges, and proven frame by frame', async () => {
    const [made, recorded] = [await make(recipe), await look(shaky)];
    expect(listOpen(made.findings)).toEqual([]);
    const seen = await look(made.path);
    expect(seen.middles).toHaveLength(120);
    expect(measureJumps(recorded)).toBeGreaterThan(3);
    expect(measureJumps(seen)).toBeLessThan(0.25 * measureJumps(recorded));
    expect(seen.darkestEdge).toBeGreaterThan(Math.min(40, recorded.darkestEdge - 10));
    const prove = (own: Recipe, madePath = made.path) =>
      proveTake({ madePath, sourcePath: shaky, recipe: own, limits, scratchFolder: folder });
    expect(listOpen((await prove(recipe)).findings)).toEqual([]);
    const others = [plain, { ...plain, picture: { ...plain.picture, steady: 1 } }];
    for (const other of others) expect((await prove(other)).isProven).toBe(false);
  }, 300_000);

  itLong('is steadied under a turn, a crop, colors and a dissolve too', async () => {
    const { picture } = recipe;
    const own: Recipe = {
      ...recipe,
      spans: [
        { source: 0, startUs: 500_000, finishUs: 2_000_000 },
        { source: 0, startUs: 2_500_000, finishUs: 3_800_000, dissolveUs: 400_000 },
      ],
      picture: {
        ...picture,
        turnDegrees: 180,
        straightenDegrees: 2,
        crop: { x: 0.05, y: 0.05, width: 0.9, height: 0.9 },
      },
    };
    const made = await make(own);
    expect(listOpen(made.findings)).toEqual([]);
    expect(made.facts.video?.frameCount).toBe(45 + 39 - 12);
  });
});
