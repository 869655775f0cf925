import { ApodixError, buildPlan, EMPTY_SERIES, Limit } from '@apodix/core';
import { buildExif, writeHeif } from '@apodix/demo';
import { bringIn, inspectMedia, makeFile } from '@apodix/engine';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { buildRecipe } from '../test-support/recipes.ts';

let folder = '';
const widthPx = 640;
const heightPx = 400;
/** Four colored quarters with grain: corners tell turning, grain keeps the coder busy. */
function drawQuarters(): Buffer {
  const colors = [
    [200, 40, 40],
    [40, 180, 60],
    [50, 70, 200],
    [230, 220, 200],
  ] as const;
  const rgb = Buffer.alloc(widthPx * heightPx * 3);
  for (let y = 0, seed = 9; y < heightPx; y += 1) {
    for (let x = 0; x < widthPx; x += 1) {
      seed = (Math.imul(seed, 1_103_515_245) + 12_345) >>> 0;
      const grain = (seed >>> 27) - 16;
      const color = colors[(y < heightPx / 2 ? 0 : 2) + (x < widthPx / 2 ? 0 : 1)] ?? colors[0];
      color.forEach(
        (value, channel) =>
          (rgb[(y * widthPx + x) * 3 + channel] = Math.max(0, Math.min(255, value + grain))),
      );
    }
  }
  return rgb;
}

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-photo-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const limits = (...raw: Record<string, unknown>[]) =>
  raw.map((each, index) => Limit.parse({ id: `l${index}`, ...each }));
async function make(path: string, recipe: Parameters<typeof buildRecipe>[0], asked: Limit[]) {
  const { facts, evidence } = await inspectMedia(path, { scratchFolder: folder });
  const { plan } = buildPlan({
    facts,
    recipe: buildRecipe(recipe),
    limits: asked,
    series: EMPTY_SERIES,
    takeName: 'photo',
    nameContext: null,
  });
  if (!plan) throw new TypeError('a plan was expected');
  return makeFile({
    sourcePath: path,
    facts,
    series: EMPTY_SERIES,
    evidence,
    plan,
    judge: { limits: asked, nameContext: null },
    outputPath: join(folder, `made-${Math.random().toString(36).slice(2)}`),
  });
}
const quarter = async (path: string, index: number) => {
  const { data, info } = await sharp(path)
    .resize(2, 2, { fit: 'fill', kernel: 'nearest' })
    .raw()
    .toBuffer({ resolveWithObject: true });
  return [...data.subarray(index * info.channels, index * info.channels + 3)];
};
const isNear = (found: number[], wanted: number[]) =>
  found.every((value, channel) => Math.abs(value - (wanted[channel] ?? 0)) < 26);

describe('HEIC', () => {
  it('is measured with its private data and becomes an upright sRGB JPEG without them', async () => {
    const path = join(folder, 'phone.heic');
    await writeFile(
      path,
      await writeHeif({
        rgb: drawQuarters(),
        widthPx,
        heightPx,
        exif: buildExif({ takenAt: '2026:11:20 14:02:00', serial: 'SN-1', place: [52.5, -1.25] }),
        crf: 12,
      }),
    );
    const { facts, files } = await bringIn(path, join(folder, 'phone'));
    expect(facts).toMatchObject({
      kind: 'photo',
      container: 'heic',
      locationPresent: true,
      deviceSerialPresent: true,
      photo: { widthPx, heightPx },
    });
    expect(facts.captureTime).toMatch(/^2026-11-20T/);
    expect((await sharp(files.proxy).metadata()).format).toBe('jpeg');
    const made = await make(
      path,
      {},
      limits(
        { kind: 'file-size', maxBytes: 30_000 },
        { kind: 'picture-edge', edge: 'long', max: 320 },
        { kind: 'location-removed' },
      ),
    );
    expect(made.everyMustMet).toBe(true);
    const outside = await sharp(made.path).metadata();
    expect([outside.format, outside.width, outside.height, outside.exif, outside.hasProfile]).toEqual([
      'jpeg',
      320,
      200,
      undefined,
      true,
    ]);
    expect(
      isNear(await quarter(made.path, 0), [200, 40, 40]) &&
        isNear(await quarter(made.path, 3), [230, 220, 200]),
    ).toBe(true);
  });
});

describe('photographs', () => {
  it('an orientation tag is obeyed once and left out', async () => {
    const path = join(folder, 'turned.jpg');
    await sharp(drawQuarters(), { raw: { width: widthPx, height: heightPx, channels: 3 } })
      .withMetadata({ orientation: 6 })
      .jpeg({ quality: 95 })
      .toFile(path);
    expect((await inspectMedia(path, { scratchFolder: folder })).facts.photo).toMatchObject({
      widthPx: 400,
      heightPx: 640,
      orientation: 6,
    });
    const made = await make(path, {}, []);
    expect(made.facts.photo).toMatchObject({
      widthPx: 400,
      heightPx: 640,
      orientation: 1,
      colorProfile: expect.stringMatching(/sRGB/i) as string,
    });
    expect(isNear(await quarter(made.path, 1), [200, 40, 40])).toBe(true);
  });

  it('that is as it is wanted already is not coded again, only cleaned of what it tells', async () => {
    const path = join(folder, 'told.jpg');
    await sharp(drawQuarters(), { raw: { width: widthPx, height: heightPx, channels: 3 } })
      .withExif({ IFD0: { Artist: 'Ineke Varga' }, IFD3: { GPSLatitudeRef: 'N' } })
      .jpeg({ quality: 88 })
      .toFile(path);
    const made = await make(
      path,
      {},
      limits({ kind: 'file-size', maxBytes: 200_000 }, { kind: 'location-removed' }),
    );
    expect(made.everyMustMet).toBe(true);
    const [own, other] = await Promise.all([made.path, path].map((each) => sharp(each).raw().toBuffer()));
    expect(own?.equals(other ?? Buffer.alloc(0))).toBe(true);
    const { exif, icc } = await sharp(made.path).metadata();
    expect([exif, icc === undefined]).toEqual([undefined, false]);
    expect((await readFile(made.path)).includes('Ineke')).toBe(false);
    // A limit that it does not meet: coded anew.
    const maxBytes = Math.floor(made.facts.sizeBytes * 0.6);
    const small = await make(path, {}, limits({ kind: 'file-size', maxBytes }));
    expect(small.facts.sizeBytes).toBeLessThanOrEqual(maxBytes);
  });

  it('turning and mirroring by the recipe', async () => {
    const path = join(folder, 'plain.png');
    await sharp(drawQuarters(), { raw: { width: widthPx, height: heightPx, channels: 3 } })
      .png()
      .toFile(path);
    expect(isNear(await quarter((await make(path, { turnDegrees: 90 }, [])).path, 1), [200, 40, 40])).toBe(
      true,
    );
    expect(
      isNear(
        await quarter((await make(path, { turnDegrees: 90, isMirrored: true }, [])).path, 0),
        [200, 40, 40],
      ),
    ).toBe(true);
  });

  it('converts a wide-gamut photograph into sRGB instead of only relabelling it', async () => {
    const path = join(folder, 'p3.jpg');
    await sharp({ create: { width: 64, height: 64, channels: 3, background: '#ff0000' } })
      .withIccProfile('p3')
      .jpeg({ quality: 100, chromaSubsampling: '4:4:4' })
      .toFile(path);
    const stored = await sharp(path, { ignoreIcc: true }).raw().toBuffer();
    expect(stored[0]).toBeLessThan(245);
    const made = await make(path, {}, []);
    const shown = await sharp(made.path, { ignoreIcc: true }).raw().toBuffer();
    expect(shown[0]).toBeGreaterThan(248);
  });

  it('uses the bytes that are allowed, and no more than print needs where nothing is said of them', async () => {
    const path = join(folder, 'plain.png');
    const jpeg = { kind: 'format', wanted: ['jpeg'] };
    const open = (await make(path, {}, limits(jpeg))).facts.sizeBytes;
    const most = Math.round(1.25 * open);
    const used = (await make(path, {}, limits(jpeg, { kind: 'file-size', maxBytes: most }))).facts.sizeBytes;
    expect(used).toBeLessThanOrEqual(most);
    expect(used).toBeGreaterThan(1.1 * open);
  });

  it('shrinks only where quality alone does not reach the bytes, and says when nothing does', async () => {
    const path = join(folder, 'plain.png');
    const small = await make(
      path,
      {},
      limits({ kind: 'format', wanted: ['jpeg'] }, { kind: 'file-size', maxBytes: 9000 }),
    );
    expect(small.facts.sizeBytes).toBeLessThanOrEqual(9000);
    expect(small.facts.photo?.widthPx).toBeLessThan(widthPx);
    await expect(
      make(
        path,
        {},
        limits({ kind: 'file-size', maxBytes: 3000 }, { kind: 'picture-edge', edge: 'long', min: 600 }),
      ),
    ).rejects.toMatchObject({ code: 'LIMITS_CANNOT_BE_MET' });
  });

  it('refuses bombs before they unpack, half pictures, and drawings that point elsewhere', async () => {
    const code = async (path: string) =>
      ((await inspectMedia(path, { scratchFolder: folder }).catch((error: unknown) => error)) as ApodixError)
        .code;
    const bomb = join(folder, 'bomb.png');
    await sharp({
      create: { width: 20_000, height: 11_000, channels: 3, background: '#fff' },
      limitInputPixels: false,
    })
      .png({ compressionLevel: 9 })
      .toFile(bomb);
    expect(await code(bomb)).toBe('TOO_MANY_PIXELS');
    const half = join(folder, 'half.jpg');
    const whole = await sharp(drawQuarters(), { raw: { width: widthPx, height: heightPx, channels: 3 } })
      .jpeg()
      .toBuffer();
    await writeFile(half, whole.subarray(0, whole.length / 2));
    expect(['TRUNCATED', 'DAMAGED']).toContain(await code(half));
    const svg = join(folder, 'drawing.jpg');
    await writeFile(
      svg,
      '<?xml version="1.0"?><!DOCTYPE svg [<!ENTITY x SYSTEM "file:///etc/passwd">]><svg xmlns="http://www.w3.org/2000/svg"><text>&x;</text></svg>',
    );
    expect(await code(svg)).toBe('TEXT_NOT_MEDIA');
  });
});
