import { buildPlan, EMPTY_SERIES, Limit, noticeTake, type About } from '@apodix/core';
import { layOutCard, inspectMedia, makeFile, proveTake } from '@apodix/engine';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import exifr from 'exifr';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { buildRecipe } from '../test-support/recipes.ts';

let folder = '';
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-checks-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const [widthPx, heightPx] = [720, 480];
/** A drawing: hatching of several widths on a toned ground, blurred where it is asked for. */
async function drawPhoto(name: string, blurPx = 0): Promise<string> {
  const rgb = Buffer.alloc(widthPx * heightPx * 3);
  for (let at = 0; at < rgb.length; at += 1) {
    const point = Math.floor(at / 3);
    const [x, y] = [point % widthPx, Math.floor(point / widthPx)];
    const stroke = Math.sin((x + 0.4 * y) / (4 + x / 160)) > 0.3 ? 90 : 0;
    rgb[at] = 60 + stroke + 20 * (at % 3) + 30 * Math.sin(y / 90);
  }
  const path = join(folder, name);
  const drawn = sharp(rgb, { raw: { width: widthPx, height: heightPx, channels: 3 } });
  await (blurPx > 0 ? drawn.blur(blurPx) : drawn).jpeg({ quality: 94 }).toFile(path);
  return path;
}

const limits = [Limit.parse({ id: 'format', kind: 'format', wanted: ['jpeg'] })];
async function make(path: string, picture: Parameters<typeof buildRecipe>[0], asked = limits) {
  const { facts, evidence } = await inspectMedia(path, { scratchFolder: folder });
  const recipe = buildRecipe(picture);
  const common = { facts, recipe, limits: asked, series: EMPTY_SERIES };
  const { plan } = buildPlan({ ...common, takeName: 'piece', nameContext: null });
  if (!plan) throw new TypeError('a plan was expected');
  const made = await makeFile({
    sourcePath: path,
    facts,
    series: EMPTY_SERIES,
    evidence,
    plan,
    judge: { limits: asked, nameContext: null, slotId: null },
    outputPath: join(folder, `made-${plan.fileName}`),
  });
  return { made, recipe };
}
type Rows = readonly {
  readonly of: string;
  readonly row?: string;
  readonly state: string;
  readonly value?: unknown;
}[];
const rowOf = (findings: unknown, row: string) =>
  (findings as Rows).find((each) => each.of === 'proof' && each.row === row);

describe('a made photograph', () => {
  it('tells what it was to tell, and the proof finds a file that tells something else', async () => {
    const path = await drawPhoto('told.jpg');
    const about: About = { title: 'Über dem Meer', artist: 'Ineke Varga', rights: '' };
    const { made, recipe } = await make(path, { picture: { about } });
    expect(rowOf(made.findings, 'about')).toMatchObject({ state: 'met' });
    const told = (await exifr.parse(made.path, { xmp: true, iptc: true, tiff: false })) as Record<
      string,
      unknown
    >;
    expect(told).toMatchObject({
      title: { value: about.title },
      creator: about.artist,
      Byline: about.artist,
    });
    const other = { ...recipe, picture: { ...recipe.picture, about: { ...about, artist: 'Somebody else' } } };
    const proof = { madePath: made.path, sourcePath: path, limits, scratchFolder: folder };
    const found = await proveTake({ ...proof, recipe: other });
    expect(rowOf(found.findings, 'about')).toMatchObject({ state: 'short' });
    expect(found.isProven).toBe(false);
  });

  it('is held close: what coding took is measured, and a blurred file is short', async () => {
    const path = await drawPhoto('close.jpg');
    const { made, recipe } = await make(path, { picture: { straightenDegrees: 2 } });
    const row = rowOf(made.findings, 'clarity');
    expect(row).toMatchObject({ state: 'met' });
    expect(row?.value).toBeGreaterThan(0.93);
    const blurred = join(folder, 'blurred.jpg');
    await sharp(await readFile(made.path))
      .blur(12)
      .withIccProfile('srgb')
      .jpeg()
      .toFile(blurred);
    const proof = { madePath: blurred, sourcePath: path, recipe, limits, scratchFolder: folder };
    expect(rowOf((await proveTake(proof)).findings, 'clarity')).toMatchObject({ state: 'short' });
  });

  it('has the white border that was asked for, and is proven with it', async () => {
    const { made } = await make(await drawPhoto('framed.jpg'), { picture: { border: 0.1 } });
    expect(made.everyMustMet).toBe(true);
    const { data, info } = await sharp(made.path).raw().toBuffer({ resolveWithObject: true });
    expect([info.width, info.height]).toEqual([widthPx + 96, heightPx + 96]);
    const level = (x: number, y: number) => data[(y * info.width + x) * 3] ?? 0;
    expect(Math.min(level(4, 300), level(400, 4), level(info.width - 5, 300))).toBeGreaterThan(250);
    expect(level(300, 300)).toBeLessThan(240);
  });
});

describe('a photograph that was brought in', () => {
  it('is told clear or soft part by part', async () => {
    const detailOf = async (path: string) =>
      (await inspectMedia(path, { scratchFolder: folder })).facts.photo?.detail;
    const known = (blurs: readonly (number | null)[] = []) => blurs.filter((blur) => blur !== null);
    const clear = known((await detailOf(await drawPhoto('clear.jpg')))?.blursPx);
    const soft = known((await detailOf(await drawPhoto('soft.jpg', 2.5)))?.blursPx);
    expect(clear.length).toBeGreaterThan(40);
    expect(Math.max(...clear)).toBeLessThan(1.2);
    expect(Math.min(...soft, 9)).toBeGreaterThan(1.6);
  });

  it('says so where its writing runs backwards, and nothing where it is upright', async () => {
    const card = { title: 'Study of hands in three colours', lengthUs: 1_000_000 };
    const lines = [
      'printed by hand on heavy paper',
      'the second of seven prints',
      'and dried for two days flat',
    ];
    const svg = layOutCard({ ...card, lines }, { widthPx: 1000, heightPx: 700 });
    const drawn = await sharp(Buffer.from(svg)).flatten({ background: '#000' }).negate().png().toBuffer();
    const noticed = async (name: string, isMirrored: boolean) => {
      const path = join(folder, name);
      await sharp(drawn).flop(isMirrored).jpeg({ quality: 90 }).toFile(path);
      const { facts } = await inspectMedia(path, { scratchFolder: folder });
      return [
        facts.photo?.writingWay,
        noticeTake(facts)
          .map(({ code }) => code)
          .includes('writing-way'),
      ];
    };
    expect(await noticed('upright.jpg', false)).toEqual(['upright', false]);
    expect(await noticed('mirrored.jpg', true)).toEqual(['mirrored', true]);
  });
});
