import {
  convertLightToLab,
  convertRgb8ToLab,
  createPlainColor,
  createPlainRecipe,
  flattenSeen,
  Limit,
  measureDeltaE,
  type Recipe,
} from '@apodix/core';
import { inspectMedia, makeFromTake, proveTake } from '@apodix/engine';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { itLong } from '../test-support/long.ts';
import { buildLampScene, drawLampScene, radiate } from '../../packages/core/src/test-support/lamp-scene.ts';
import { listOpen } from '../test-support/findings.ts';
import { drawPiece, IN_SHARES, photographPiece, PIECE } from '../test-support/piece-photo.ts';

let folder = '';
let photo = '';
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-artwork-'));
  photo = await photographPiece(folder, 'desk.png');
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const limits = [
  Limit.parse({ id: 'format', kind: 'format', wanted: ['jpeg'] }),
  Limit.parse({ id: 'size', kind: 'file-size', maxBytes: 2_000_000 }),
];
const plain = createPlainRecipe();
const withPicture = (picture: Partial<Recipe['picture']>): Recipe => ({
  ...plain,
  picture: { ...plain.picture, ...picture },
});
const flatten = { corners: IN_SHARES, aspect: PIECE.widthPx / PIECE.heightPx };
let count = 0;
async function make(recipe: Recipe, path = photo) {
  const outputFolder = join(folder, `out-${(count += 1)}`);
  const { made, refusals } = await makeFromTake({ path, limits, recipe, outputFolder });
  if (!made) throw new TypeError(`a made file was expected: ${JSON.stringify(refusals)}`);
  return made;
}
const prove = (madePath: string, recipe: Recipe) =>
  proveTake({ madePath, sourcePath: photo, recipe, limits, scratchFolder: folder });

/** Points of a picture at 300 by 400, a little softened, so that single edges do not decide. */
const readSmall = (source: string | Buffer) =>
  sharp(source).resize(300, 400, { fit: 'fill' }).blur(1).removeAlpha().raw().toBuffer();
/** Mean difference of two pictures in levels of 255. */
async function measureDifference(left: string | Buffer, right: string | Buffer): Promise<number> {
  const [a, b] = [await readSmall(left), await readSmall(right)];
  return a.reduce((sum, level, at) => sum + Math.abs(level - (b[at] ?? 0)), 0) / a.length;
}

describe('a photographed piece', () => {
  it('is brought flat as it was drawn, proven, and another part of the picture is not taken for it', async () => {
    const recipe = withPicture({ flatten });
    const made = await make(recipe);
    expect(listOpen(made.findings)).toEqual([]);
    const { widthPx, heightPx } = made.facts.photo ?? { widthPx: 0, heightPx: 0 };
    expect(widthPx / heightPx).toBeCloseTo(0.75, 2);
    expect(heightPx).toBeGreaterThan(880);
    expect(await measureDifference(made.path, await drawPiece())).toBeLessThan(2.5);
    expect(listOpen((await prove(made.path, recipe)).findings)).toEqual([]);
    const [a, b, c, d] = IN_SHARES;
    const off = { ...flatten, corners: [{ x: a.x + 0.04, y: a.y }, b, c, { x: d.x + 0.04, y: d.y }] };
    expect((await prove(made.path, withPicture({ flatten: off as typeof flatten }))).isProven).toBe(false);
    expect((await prove(made.path, plain)).isProven).toBe(false);
  });

  itLong('has its true proportions back where nobody tells them', async () => {
    const made = await make(withPicture({ flatten: { ...flatten, aspect: null } }));
    const { widthPx, heightPx } = made.facts.photo ?? { widthPx: 0, heightPx: 1 };
    expect(Math.abs(widthPx / heightPx / (PIECE.widthPx / PIECE.heightPx) - 1)).toBeLessThan(0.01);
  });

  itLong('is turned, mirrored, cut and colored after that, and proven', async () => {
    const color = { ...createPlainColor(), exposure: -0.4 };
    const crop = { x: 0.05, y: 0.1, width: 0.9, height: 0.8 };
    const recipe = withPicture({ flatten, turnDegrees: 90, isMirrored: true, crop, color });
    const made = await make(recipe);
    expect(listOpen(made.findings)).toEqual([]);
    const { widthPx, heightPx } = made.facts.photo ?? { widthPx: 0, heightPx: 1 };
    expect(widthPx / heightPx).toBeCloseTo((1200 * 0.9) / (900 * 0.8), 1);
    // 0.4 stops less light is three quarters of it, in linear light.
    const paper = await sharp(made.path).extract({ left: 4, top: 4, width: 20, height: 20 }).raw().toBuffer();
    const linear = (((paper[0] ?? 0) / 255 + 0.055) / 1.055) ** 2.4;
    const before = ((0xf4 / 255 + 0.055) / 1.055) ** 2.4;
    expect(linear / before).toBeGreaterThan(0.6);
    expect(linear / before).toBeLessThan(0.85);
    expect((await prove(made.path, withPicture({ flatten }))).isProven).toBe(false);
  });

  it('that is only straightened and cut needs no corners', async () => {
    const crop = { x: 0.2, y: 0.1, width: 0.6, height: 0.8 };
    const made = await make(withPicture({ straightenDegrees: 3, crop }));
    expect(listOpen(made.findings)).toEqual([]);
    expect((await prove(made.path, withPicture({ straightenDegrees: 1, crop }))).isProven).toBe(false);
  });

  it('comes out straight where the lens bowed its sides, which is found by itself', async () => {
    const bend = -0.04;
    const { data, info } = await sharp(photo).removeAlpha().raw().toBuffer({ resolveWithObject: true });
    const [w, h, half] = [info.width, info.height, Math.hypot(info.width, info.height) / 2];
    const bowed = Buffer.alloc(data.length);
    for (let y = 0; y < h; y += 1)
      for (let x = 0; x < w; x += 1) {
        const [dx, dy] = [x + 0.5 - w / 2, y + 0.5 - h / 2];
        const seen = Math.hypot(dx, dy) / half;
        // What belongs at r is seen at r · (1 + bend · r²): r by repeated guesses.
        let own = seen;
        for (let guess = 0; guess < 30; guess += 1) own = seen / (1 + bend * own * own);
        const [fromX, fromY] = [dx, dy].map((off) => (seen === 0 ? off : (off * own) / seen));
        const px = Math.max(0, Math.min(w - 1.001, w / 2 + (fromX ?? 0) - 0.5));
        const py = Math.max(0, Math.min(h - 1.001, h / 2 + (fromY ?? 0) - 0.5));
        const [left, top, u, v] = [Math.floor(px), Math.floor(py), px % 1, py % 1];
        for (let side = 0; side < 3; side += 1) {
          const at = (line: number, column: number) =>
            data[((top + line) * w + Math.min(w - 1, left + column)) * 3 + side] ?? 0;
          bowed[(y * w + x) * 3 + side] =
            (1 - v) * ((1 - u) * at(0, 0) + u * at(0, 1)) + v * ((1 - u) * at(1, 0) + u * at(1, 1));
        }
      }
    const path = join(folder, 'bowed.png');
    await sharp(bowed, { raw: { width: w, height: h, channels: 3 } }).toFile(path);
    const piece = (await inspectMedia(path, { scratchFolder: folder })).facts.photo?.piece;
    expect(Math.abs((piece?.lens ?? 0) / bend - 1)).toBeLessThan(0.2);
    if (!piece) throw new TypeError('a piece was expected');
    const straight = { ...flattenSeen(piece), aspect: PIECE.widthPx / PIECE.heightPx };
    const made = await make(withPicture({ flatten: straight }), path);
    expect(listOpen(made.findings)).toEqual([]);
    const off = await measureDifference(made.path, await drawPiece());
    expect(off).toBeLessThan(4);
  });

  it('refuses corners that cross', async () => {
    const [a, b, c, d] = IN_SHARES;
    const crossed = { ...plain.picture, flatten: { corners: [a, c, b, d], aspect: null } };
    const { Recipe: schema } = await import('@apodix/core');
    expect(schema.safeParse({ ...plain, picture: crossed }).success).toBe(false);
  });

  it('comes out of a warm lamp’s light evenly lit, in its own colors and proven, without a word from anybody', async () => {
    const scene = buildLampScene(61, { widthPx: 1200, heightPx: 900, lamp: radiate(3000) });
    const { bytes, widthPx: width, heightPx: height } = drawLampScene(scene);
    const path = join(folder, 'lamp.jpg');
    const raw = { width, height, channels: 3 as const };
    await sharp(Buffer.from(bytes), { raw }).jpeg({ quality: 95 }).toFile(path);
    const { made, recipe } = await makeFromTake({
      path,
      limits,
      recipe: null,
      outputFolder: join(folder, 'lamp'),
    });
    if (!made) throw new TypeError('a made file was expected');
    expect(listOpen(made.findings)).toEqual([]);
    expect(recipe.picture).toMatchObject({ flatten: {}, light: {}, color: { white: {} } });
    const { data, info } = await sharp(made.path).raw().toBuffer({ resolveWithObject: true });
    const errors: number[] = [];
    for (let row = 1; row < 30; row += 1)
      for (let column = 1; column < 30; column += 1) {
        const [u, v] = [column / 30, row / 30];
        const at = (Math.floor(v * info.height) * info.width + Math.floor(u * info.width)) * 3;
        const own = convertRgb8ToLab(data[at] ?? 0, data[at + 1] ?? 0, data[at + 2] ?? 0);
        errors.push(measureDeltaE(convertLightToLab(...scene.piece(u, v)), own));
      }
    const mean = errors.reduce((sum, each) => sum + each, 0) / errors.length;
    expect(mean).toBeLessThan(3);
    // The proof notices where the light was not evened out as the recipe says.
    const uneven = { ...recipe, picture: { ...recipe.picture, light: null } };
    const other = await proveTake({
      madePath: made.path,
      sourcePath: path,
      recipe: uneven,
      limits,
      scratchFolder: folder,
    });
    expect(other.isProven).toBe(false);
  });
});
