import { buildPlan, createPlainColor, Limit, packLook, type ColorSettings, type Recipe } from '@apodix/core';
import { inspectMedia, makeFile, makeFromTake, proveMade, proveTake } from '@apodix/engine';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { isLong } from '../test-support/long.ts';
import { listOpen, listShort } from '../test-support/findings.ts';
import { buildRecipe } from '../test-support/recipes.ts';
import { makeClip, readFramePoints, readVolume } from '../test-support/sample-media.ts';

let folder = '';
let path = '';
let inspected: Awaited<ReturnType<typeof inspectMedia>>;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-shape-'));
  path = await makeClip(folder, 'take.mp4', {
    seconds: 1.4,
    size: '640x360',
    filters: 'noise=alls=6:allf=t',
  });
  inspected = await inspectMedia(path, { scratchFolder: folder });
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const limit = Limit.parse({ id: 'size', kind: 'file-size', maxBytes: 900_000 });
const limits = [limit];
const color = (changes: Partial<ColorSettings>): ColorSettings => ({ ...createPlainColor(), ...changes });
/** A table that takes contrast and half of the blue away. */
function faded(edge: number) {
  const values = Float32Array.from({ length: edge ** 3 * 3 }, (_, at) => {
    const point = Math.floor(at / 3);
    const step = [point % edge, Math.floor(point / edge) % edge, Math.floor(point / edge ** 2)][at % 3] ?? 0;
    return (0.15 + 0.7 * (step / (edge - 1))) * (at % 3 === 2 ? 0.5 : 1);
  });
  return { edge, values };
}
let count = 0;

/** Where only the sound matters. */
const SMALL = { size: '160x120', rate: '10', filters: 'null' };

async function make(recipe: Recipe, asked: Limit[] = limits) {
  const { facts, series, evidence } = inspected;
  const judge = { limits: asked, nameContext: null };
  const { plan } = buildPlan({ facts, recipe, series, takeName: 'take.mp4', ...judge });
  if (!plan) throw new TypeError('a plan was expected');
  const outputPath = join(folder, `made-${(count += 1)}.mp4`);
  return makeFile({ sourcePath: path, facts, series, evidence, plan, judge, outputPath });
}

/** What holding it against a recipe finds, from what is known of the recording. */
const hold = async (madePath: string, recipe: Recipe, take = inspected) =>
  (await proveMade({ madePath, recipe, take, timeline: null, isSoundWanted: null })).findings;
/** What somebody who has only both files and the recipe finds. */
const prove = async (madePath: string, recipe: Recipe) =>
  (await proveTake({ madePath, sourcePath: path, recipe, limits, scratchFolder: folder })).findings;

const shapes: readonly [string, Recipe['picture'], { widthPx: number; heightPx: number }][] = [
  [
    'a part',
    buildRecipe({ picture: { crop: { x: 0.3, y: 0.1, width: 0.5, height: 0.6 } } }).picture,
    { widthPx: 320, heightPx: 216 },
  ],
  [
    'straightened',
    buildRecipe({ picture: { straightenDegrees: 6 } }).picture,
    { widthPx: 542, heightPx: 304 },
  ],
  [
    'turned, mirrored, straightened and cut',
    buildRecipe({
      turnDegrees: 90,
      isMirrored: true,
      picture: { straightenDegrees: -3, crop: { x: 0.05, y: 0.3, width: 0.8, height: 0.5 } },
    }).picture,
    { widthPx: 264, heightPx: 294 },
  ],
  [
    'a part of it with bars up to another shape',
    buildRecipe({
      turnDegrees: 90,
      picture: { crop: { x: 0.1, y: 0.2, width: 0.8, height: 0.5 }, barsTo: 16 / 9 },
    }).picture,
    { widthPx: 568, heightPx: 320 },
  ],
  [
    'hidden in two places, one of them moving, and turned',
    buildRecipe({
      turnDegrees: 270,
      picture: {
        crop: { x: 0, y: 0.1, width: 1, height: 0.8 },
        hidden: [
          { radiusX: 0.15, radiusY: 0.25, path: [{ timeUs: 0, x: 0.3, y: 0.4 }] },
          {
            radiusX: 0.12,
            radiusY: 0.2,
            path: [
              { timeUs: 200_000, x: 0.7, y: 0.3 },
              { timeUs: 1_600_000, x: 0.5, y: 0.7 },
            ],
          },
        ],
      },
    }).picture,
    { widthPx: 360, heightPx: 512 },
  ],
  [
    'put right in color',
    buildRecipe({
      picture: {
        color: color({
          white: { kelvin: 3000, tint: 0.004 },
          exposure: 0.6,
          shadows: 0.2,
          highlights: 0.5,
          contrast: 0.1,
        }),
      },
    }).picture,
    { widthPx: 640, heightPx: 360 },
  ],
  [
    'through a table of somebody else’s, after its own lamp',
    buildRecipe({
      picture: { color: color({ white: { kelvin: 4000, tint: 0 }, look: packLook('Faded', faded(33)) }) },
    }).picture,
    { widthPx: 640, heightPx: 360 },
  ],
];

describe('a shaped picture', () => {
  it.each(shapes)(
    '%s: is made as asked, and proven by the maker and by an outsider',
    async (_name, picture, size) => {
      const recipe = { ...buildRecipe(), picture };
      const made = await make(recipe);
      // Edges are even, and the shorter one is rounded down.
      expect(Math.abs((made.facts.video?.widthPx ?? 0) - size.widthPx)).toBeLessThanOrEqual(3);
      expect(Math.abs((made.facts.video?.heightPx ?? 0) - size.heightPx)).toBeLessThanOrEqual(2);
      expect(listOpen(made.findings)).toEqual([]);
      expect(listOpen(await prove(made.path, recipe))).toEqual([]);
    },
  );
});

describe('a file that was shaped otherwise', () => {
  const part = { x: 0.2, y: 0.1, width: 0.6, height: 0.6 };
  const hiddenArea = { radiusX: 0.15, radiusY: 0.25, path: [{ timeUs: 0, x: 0.3, y: 0.5 }] };
  const warm = color({ white: { kelvin: 3000, tint: 0 }, exposure: 0.5 });
  const wrong: readonly [string, Partial<Recipe['picture']>, Partial<Recipe['picture']>, string[]][] = [
    ['not hidden', {}, { hidden: [hiddenArea] }, ['hidden']],
    [
      'hidden somewhere else',
      { hidden: [{ ...hiddenArea, path: [{ timeUs: 0, x: 0.7, y: 0.5 }] }] },
      { hidden: [hiddenArea] },
      ['hidden'],
    ],
    [
      'cut where bars were asked for',
      { crop: { x: 0.25, y: 0, width: 0.5, height: 1 } },
      { barsTo: 8 / 9 },
      ['geometry'],
    ],
    ['another part', { crop: { ...part, x: 0.23 } }, { crop: part }, ['geometry']],
    ['not straightened', { crop: part }, { crop: part, straightenDegrees: 1.5 }, ['geometry']],
    [
      'colors put half right',
      { color: { ...warm, white: { kelvin: 4200, tint: 0 } } },
      { color: warm },
      ['color'],
    ],
    ['colors changed that should not be', { color: color({ richness: 0.5 }) }, {}, ['color']],
  ];
  const more: typeof wrong = [
    ['without its bars', {}, { barsTo: 1 }, ['geometry']],
    ['straightened the other way', { straightenDegrees: -2 }, { straightenDegrees: 2 }, ['geometry']],
    ['colors left as they were', {}, { color: warm }, ['picture', 'color']],
    ['lighter than asked', { color: { ...warm, exposure: 0.8 } }, { color: warm }, ['color']],
  ];
  it.each(isLong ? [...wrong, ...more] : wrong)('is found out: %s', async (_name, own, asked, rows) => {
    const made = await make(buildRecipe({ picture: own }), []);
    const short = listShort(await hold(made.path, buildRecipe({ picture: asked })));
    for (const row of rows) expect(short).toContain(row);
  });
});

it('leaves nothing of a hidden area but a few cells, and everything else as it was', async () => {
  const hidden = [{ radiusX: 0.2, radiusY: 0.3, path: [{ timeUs: 0, x: 0.3, y: 0.5 }] }];
  const made = await make(buildRecipe({ picture: { hidden } }));
  const [own, before] = await Promise.all([
    readFramePoints(made.path, 30, 640),
    readFramePoints(path, 30, 640),
  ]);
  const sharpness = (points: Uint8Array, x0: number, x1: number) => {
    let sum = 0;
    for (let y = 130; y < 230; y += 1)
      for (let x = x0; x < x1; x += 1)
        sum += Math.abs(
          2 * (points[(y * 640 + x) * 3] ?? 0) -
            (points[(y * 640 + x - 1) * 3] ?? 0) -
            (points[(y * 640 + x + 1) * 3] ?? 0),
        );
    return sum / ((x1 - x0) * 100);
  };
  // Inside the ellipse about x 192: slopes between cells alone; to the right of it the recording.
  expect(sharpness(own, 132, 252)).toBeLessThan(0.25 * sharpness(before, 132, 252));
  expect(sharpness(own, 400, 600)).toBeGreaterThan(0.6 * sharpness(before, 400, 600));
});

it('lowers steady noise between the notes, in step, and leaves the notes alone', async () => {
  const noisy = await makeClip(folder, 'noisy.mp4', {
    ...SMALL,
    seconds: 4,
    sound: 'aevalsrc=0.25*sin(2*PI*(300+60*t)*t)*gt(mod(t\\,2)\\,1)+0.004*(2*random(0)-1):s=48000',
    audio: ['-c:a', 'aac', '-b:a', '160k'],
  });
  const sound = { noise: { lowerDb: 10, floorDb: -53 } };
  const of = async (changes: Partial<Recipe['sound']>, name: string) => {
    const outputFolder = join(folder, name);
    const recipe = buildRecipe({ sound: changes });
    const { made } = await makeFromTake({ path: noisy, limits: [], recipe, outputFolder });
    if (!made) throw new TypeError('a made file was expected');
    expect(listShort(made.findings)).toEqual([]);
    return Promise.all([readVolume(made.path, 2.3, 0.4), readVolume(made.path, 3.3, 0.4)]);
  };
  const [plain, calm] = [await of({}, 'noise-kept'), await of(sound, 'noise-lowered')];
  expect(plain[0] - calm[0]).toBeGreaterThan(4);
  expect(Math.abs(plain[1] - calm[1])).toBeLessThan(0.5);
});

it('says nothing of hidden places where only the sound is handed in', async () => {
  const hidden = [{ radiusX: 0.2, radiusY: 0.3, path: [{ timeUs: 0, x: 0.3, y: 0.5 }] }];
  const format = Limit.parse({ id: 'format', kind: 'format', wanted: ['m4a'] });
  const recipe = buildRecipe({ picture: { hidden } });
  const outputFolder = join(folder, 'sound-alone');
  const { made } = await makeFromTake({ path, limits: [format], recipe, outputFolder });
  expect(made?.facts.kind).toBe('sound');
  expect(listOpen(made?.findings ?? [])).toEqual([]);
});

describe('half pictures', () => {
  const combs = (points: Uint8Array) => {
    let sum = 0;
    for (let y = 1; y < 359; y += 1)
      for (let x = 0; x < 640; x += 4)
        sum += Math.abs(
          2 * (points[(y * 640 + x) * 3] ?? 0) -
            (points[((y - 1) * 640 + x) * 3] ?? 0) -
            (points[((y + 1) * 640 + x) * 3] ?? 0),
        );
    return sum;
  };
  it('are made whole where they are found, and left where that is wished', async () => {
    const combed = await makeClip(folder, 'combed.mp4', {
      seconds: 2,
      size: '640x360',
      rate: '50',
      // Half as fast: what moves between two half pictures lies elsewhere than in either.
      filters: 'setpts=2*PTS,fps=50,trim=duration=2,interlace=scan=tff:lowpass=off',
      video: [
        '-c:v',
        'libx264',
        '-preset',
        'ultrafast',
        '-crf',
        '12',
        '-flags',
        '+ilme+ildct',
        '-x264opts',
        'tff=1',
      ],
    });
    const of = async (deinterlace: Recipe['picture']['deinterlace']) => {
      const recipe = buildRecipe({ picture: { deinterlace } });
      const outputFolder = join(folder, `combs-${deinterlace}`);
      const { made } = await makeFromTake({ path: combed, limits, recipe, outputFolder });
      if (!made) throw new TypeError('a made file was expected');
      expect(listOpen(made.findings)).toEqual([]);
      return combs(await readFramePoints(made.path, 20, 640));
    };
    const [found, never] = [await of('where-found'), await of('never')];
    expect(found).toBeLessThan(0.9 * never);
  });
});
