import { ApodixError, buildPlan, EMPTY_SERIES, Limit, type MediaFacts } from '@apodix/core';
import { bringIn, inspectMedia, makeFile } from '@apodix/engine';
import { execa } from 'execa';
import { mkdir, mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { deflateSync, inflateSync } from 'node:zlib';
import { PDFDocument, PDFString } from 'pdf-lib';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { buildRecipe } from '../test-support/recipes.ts';

let folder = '';
let colors: Buffer<ArrayBuffer>;
const size = { widthPx: 1200, heightPx: 800 };

/** Four quarters with grain: red, green, blue, light. */
function drawQuarters(): Buffer<ArrayBuffer> {
  const quarters = [
    [200, 40, 40],
    [40, 180, 60],
    [50, 70, 200],
    [230, 220, 200],
  ] as const;
  const points = Buffer.from(new ArrayBuffer(size.widthPx * size.heightPx * 3));
  for (let y = 0, seed = 5; y < size.heightPx; y += 1) {
    for (let x = 0; x < size.widthPx; x += 1) {
      seed = (Math.imul(seed, 1_103_515_245) + 12_345) >>> 0;
      const color = quarters[(y < size.heightPx / 2 ? 0 : 2) + (x < size.widthPx / 2 ? 0 : 1)] ?? quarters[0];
      color.forEach(
        (value, channel) =>
          (points[(y * size.widthPx + x) * 3 + channel] = Math.max(
            0,
            Math.min(255, value + (seed >>> 28) - 8),
          )),
      );
    }
  }
  return points;
}

interface Stream {
  readonly dict: string;
  readonly bytes: Buffer;
}

/** A document written by hand (ISO 32000-1, 7.5): pages with one picture each and a line of text. */
function writeDocument(pictures: readonly Stream[], extra = ''): Buffer {
  const objects: Buffer[] = [];
  const add = (text: string, bytes?: Buffer) =>
    objects.push(
      bytes
        ? Buffer.concat([
            Buffer.from(`${objects.length + 1} 0 obj\n<< ${text} /Length ${bytes.length} >>\nstream\n`),
            bytes,
            Buffer.from('\nendstream\nendobj\n'),
          ])
        : Buffer.from(`${objects.length + 1} 0 obj\n<< ${text} >>\nendobj\n`),
    );
  add('/Type /Catalog /Pages 2 0 R');
  add(
    `/Type /Pages /Count ${pictures.length} /Kids [${pictures.map((_, index) => `${5 + index * 3} 0 R`).join(' ')}]`,
  );
  add('/Type /Font /Subtype /Type1 /BaseFont /Helvetica');
  add('/Author (Somebody) /Producer (A scanner) /Title (Private)');
  for (const [index, picture] of pictures.entries()) {
    add(
      `/Type /Page /Parent 2 0 R /MediaBox [0 0 600 400] /Resources << /XObject << /P ${7 + index * 3} 0 R >> /Font << /F 3 0 R >> >> /Contents ${6 + index * 3} 0 R`,
    );
    add(
      '',
      Buffer.from(`q 600 0 0 400 0 0 cm /P Do Q BT /F 20 Tf 40 40 Td (Page number ${index + 1}) Tj ET`),
    );
    add(
      `/Type /XObject /Subtype /Image /Width ${size.widthPx} /Height ${size.heightPx} /BitsPerComponent 8 ${picture.dict}`,
      picture.bytes,
    );
  }
  const parts: Buffer[] = [Buffer.from('%PDF-1.5\n')];
  const offsets = objects.map((object) => {
    const at = parts.reduce((sum, part) => sum + part.length, 0);
    parts.push(object);
    return at;
  });
  const at = parts.reduce((sum, part) => sum + part.length, 0);
  parts.push(
    Buffer.from(
      `xref\n0 ${objects.length + 1}\n0000000000 65535 f \n${offsets.map((offset) => `${String(offset).padStart(10, '0')} 00000 n \n`).join('')}trailer\n<< /Size ${objects.length + 1} /Root 1 0 R /Info 4 0 R ${extra} >>\nstartxref\n${at}\n%%EOF\n`,
    ),
  );
  return Buffer.concat(parts);
}

/** Rows as PNG filters them, here all with filter 2 (each sample less the one above). */
function filterRows(points: Buffer): Buffer {
  const rowBytes = size.widthPx * 3;
  return Buffer.concat(
    Array.from({ length: size.heightPx }, (_, row) =>
      Buffer.concat([
        Buffer.from([2]),
        Buffer.from(
          points
            .subarray(row * rowBytes, (row + 1) * rowBytes)
            .map((value, column) => value - (row === 0 ? 0 : (points[(row - 1) * rowBytes + column] ?? 0))),
        ),
      ]),
    ),
  );
}

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-pdf-'));
  colors = drawQuarters();
  const jpeg = await sharp(colors, { raw: { width: size.widthPx, height: size.heightPx, channels: 3 } })
    .jpeg({ quality: 96, chromaSubsampling: '4:4:4' })
    .withExif({
      IFD0: { Make: 'Camera' },
      IFD3: {
        GPSLatitudeRef: 'N',
        GPSLatitude: '51/1 30/1 0/1',
        GPSLongitudeRef: 'W',
        GPSLongitude: '0/1 7/1 0/1',
      },
    })
    .toBuffer();
  const scanned: Stream = { dict: '/ColorSpace /DeviceRGB /Filter /DCTDecode', bytes: jpeg };
  const packed: Stream = {
    dict: '/ColorSpace /DeviceRGB /Filter /FlateDecode /DecodeParms << /Predictor 15 /Colors 3 /Columns 1200 >>',
    bytes: deflateSync(filterRows(colors)),
  };
  await writeFile(join(folder, 'two.pdf'), writeDocument([scanned, packed]));
  await writeFile(join(folder, 'one.pdf'), writeDocument([scanned]));
  await writeFile(
    join(folder, 'locked.pdf'),
    writeDocument(
      [scanned],
      '/Encrypt << /Filter /Standard /V 1 /R 2 /O (12345678901234567890123456789012) /U (12345678901234567890123456789012) /P -4 >> /ID [(a) (a)]',
    ),
  );
  await sharp(colors, { raw: { width: size.widthPx, height: size.heightPx, channels: 3 } })
    .png()
    .toFile(join(folder, 'photo.png'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const limits = (...raw: Record<string, unknown>[]) =>
  raw.map((each, index) => Limit.parse({ id: `l${index}`, ...each }));
const planOf = (facts: MediaFacts, asked: Limit[], recipe: Parameters<typeof buildRecipe>[0] = {}) =>
  buildPlan({
    facts,
    recipe: buildRecipe(recipe),
    limits: asked,
    series: EMPTY_SERIES,
    takeName: 'drawing.pdf',
    nameContext: null,
  });
async function make(name: string, asked: Limit[], recipe: Parameters<typeof buildRecipe>[0] = {}) {
  const path = join(folder, name);
  const { facts, evidence } = await inspectMedia(path, { scratchFolder: folder });
  const { plan } = planOf(facts, asked, recipe);
  if (!plan) throw new TypeError('a plan was expected');
  return makeFile({
    sourcePath: path,
    facts,
    series: EMPTY_SERIES,
    evidence,
    plan,
    judge: { limits: asked, nameContext: null },
    outputPath: join(folder, `made-${Math.random().toString(36).slice(2)}.pdf`),
  });
}
/** Colors of the four quarters of a page, as another program draws it. */
async function drawPage(path: string, page = 1): Promise<number[][]> {
  await execa('pdftoppm', [
    '-f',
    String(page),
    '-l',
    String(page),
    '-singlefile',
    '-png',
    '-r',
    '50',
    path,
    join(folder, 'drawn'),
  ]);
  const { data, info } = await sharp(join(folder, 'drawn.png'))
    .resize(4, 4, { fit: 'fill', kernel: 'cubic' })
    .raw()
    .toBuffer({ resolveWithObject: true });
  return [0, 3, 12, 15].map((corner) => [
    ...data.subarray(corner * info.channels, corner * info.channels + 3),
  ]);
}
const nameColor = ([red = 0, green = 0, blue = 0]: number[]) =>
  Math.min(red, green, blue) > 180
    ? 'light'
    : red > green && red > blue
      ? 'red'
      : green > blue
        ? 'green'
        : 'blue';
const listImages = async (path: string) =>
  (await execa('pdfimages', ['-list', path])).stdout
    .split('\n')
    .slice(2)
    .map((line) => line.trim().split(/\s+/));
const pdf = { kind: 'format', wanted: ['pdf'] };

describe('a photograph as PDF', () => {
  it('becomes one page no larger than A4, close under the bytes, without a word about where it comes from', async () => {
    const made = await make('photo.png', limits(pdf, { kind: 'file-size', maxBytes: 120_000 }));
    expect([
      made.everyMustMet,
      made.facts.container,
      made.facts.sizeBytes > 100_000,
      made.facts.sizeBytes <= 120_000,
    ]).toEqual([true, 'pdf', true, true]);
    const told = (await execa('pdfinfo', [made.path])).stdout;
    expect(told).toMatch(/Pages:\s+1\n/);
    expect(told).toMatch(/Page size:\s+841\.89 x 561\.26 pts/);
    expect(told).not.toMatch(/Author|Producer|Creator|CreationDate/);
    const images = await listImages(made.path);
    expect(images.map((image) => [image[3], image[4], image[8]])).toEqual([
      [String(made.facts.document?.widthPx), String(made.facts.document?.heightPx), 'jpeg'],
    ]);
    expect((await drawPage(made.path)).map(nameColor)).toEqual(['red', 'green', 'blue', 'light']);
    const again = await make('photo.png', limits(pdf, { kind: 'file-size', maxBytes: 120_000 }));
    expect((await readFile(again.path)).equals(await readFile(made.path))).toBe(true);
  });
});

/** All of a PDF as text, streams unpacked where they can be: also what nothing leads to any more. */
function readAllText(bytes: Buffer): string {
  const text = bytes.toString('latin1');
  const parts = [...text.matchAll(/stream\r?\n([\s\S]*?)\r?\nendstream/g)].map(([, packed]) => {
    try {
      return inflateSync(Buffer.from(packed ?? '', 'latin1')).toString('latin1');
    } catch {
      return '';
    }
  });
  // Texts may be written as hexadecimal numbers, of 16 bits or 8.
  const spelled = [text, ...parts].join('\n');
  const numbers = [...spelled.matchAll(/<((?:[0-9A-F]{2})+)>/gi)].map(([, hex]) =>
    Buffer.from(hex ?? '', 'hex')
      .toString('latin1')
      .replaceAll('\0', ''),
  );
  return [spelled, ...numbers].join('\n');
}

describe('a PDF', () => {
  it('is measured: pages, the largest picture, and the place in a picture of it', async () => {
    const { facts, files } = await bringIn(join(folder, 'two.pdf'), join(folder, 'brought'));
    expect(facts).toMatchObject({
      kind: 'document',
      container: 'pdf',
      locationPresent: true,
      document: { pageCount: 2, widthPx: 1200, heightPx: 800 },
    });
    expect((await sharp(files.proxy).metadata()).width).toBeGreaterThan(1000);
  });

  it('that fits keeps its pictures to the bit and loses what is private', async () => {
    const made = await make('one.pdf', limits(pdf, { kind: 'file-size', maxBytes: 5_000_000 }));
    expect(made.facts.locationPresent).toBe(false);
    for (const [name, path] of [
      ['before', join(folder, 'one.pdf')],
      ['after', made.path],
    ] as const) {
      await mkdir(join(folder, name));
      await execa('pdfimages', ['-all', path, join(folder, name, 'picture')]);
    }
    const pointsOf = async (name: string) =>
      sharp(join(folder, name, (await readdir(join(folder, name)))[0] ?? ''))
        .raw()
        .toBuffer();
    expect((await pointsOf('before')).equals(await pointsOf('after'))).toBe(true);
    expect((await execa('pdfinfo', [made.path])).stdout).not.toMatch(/Somebody|scanner|Private/);
    expect((await readFile(made.path)).includes('GPS')).toBe(false);
    expect(readAllText(await readFile(join(folder, 'one.pdf')))).toMatch(/Somebody/);
    expect(readAllText(await readFile(made.path))).not.toMatch(/Somebody|scanner|Private/);
  });

  it('loses what is attached to it, and what an earlier saving left behind', async () => {
    const document = await PDFDocument.load(await readFile(join(folder, 'one.pdf')));
    await document.attach(Buffer.from('A letter by Somebody'), 'Somebody.txt', { mimeType: 'text/plain' });
    document.context.register(document.context.obj({ Old: PDFString.of('Somebody before') }));
    await writeFile(join(folder, 'attached.pdf'), await document.save({ useObjectStreams: false }));
    const before = (await execa('pdfdetach', ['-list', join(folder, 'attached.pdf')])).stdout;
    expect(before).toMatch(/^1 embedded files/);
    expect(readAllText(await readFile(join(folder, 'attached.pdf')))).toMatch(/A letter by Somebody/);
    const made = await make('attached.pdf', limits(pdf, { kind: 'file-size', maxBytes: 5_000_000 }));
    expect(readAllText(await readFile(made.path))).not.toMatch(/Somebody/);
    expect((await execa('pdfdetach', ['-list', made.path])).stdout).toMatch(/^0 embedded files/);
    expect((await drawPage(made.path)).map(nameColor)).toEqual(['red', 'green', 'blue', 'light']);
  });

  it('with a picture that unpacks to far more than it is, is refused and takes no memory', async () => {
    const bomb = deflateSync(Buffer.alloc(300_000_000));
    await writeFile(
      join(folder, 'bomb.pdf'),
      writeDocument([{ dict: '/ColorSpace /DeviceRGB /Filter /FlateDecode', bytes: bomb }]),
    );
    await expect(
      make('bomb.pdf', limits(pdf, { kind: 'file-size', maxBytes: 50_000 })),
    ).rejects.toMatchObject({
      code: expect.stringMatching(/DAMAGED|TOO_HEAVY|LIMITS_CANNOT_BE_MET/) as string,
    });
  });

  it('too big is coded again until it fits, text and pages kept', async () => {
    const made = await make('two.pdf', limits(pdf, { kind: 'file-size', maxBytes: 200_000 }));
    expect([
      made.everyMustMet,
      made.facts.sizeBytes <= 200_000,
      made.facts.sizeBytes > 160_000,
      made.facts.document?.pageCount,
    ]).toEqual([true, true, true, 2]);
    const text = (await execa('pdftotext', [made.path, '-'])).stdout;
    expect(text).toContain('Page number 1');
    expect(text).toContain('Page number 2');
    for (const page of [1, 2])
      expect((await drawPage(made.path, page)).map(nameColor)).toEqual(['red', 'green', 'blue', 'light']);
  });

  it('gets smaller pictures where quality alone is not enough, and says so where nothing is', async () => {
    const made = await make('two.pdf', limits(pdf, { kind: 'file-size', maxBytes: 14_000 }));
    expect(made.facts.sizeBytes).toBeLessThanOrEqual(14_000);
    expect(Number((await listImages(made.path))[0]?.[3])).toBeLessThan(1200);
    await expect(make('two.pdf', limits(pdf, { kind: 'file-size', maxBytes: 3000 }))).rejects.toMatchObject({
      code: 'LIMITS_CANNOT_BE_MET',
    });
  });

  it.each([
    [{ isMirrored: true }, ['green', 'red', 'light', 'blue']],
    [{ turnDegrees: 90, isMirrored: true }, ['red', 'blue', 'green', 'light']],
  ] as const)('is turned and mirrored: %o', async (recipe, wanted) => {
    const made = await make('one.pdf', limits(pdf), recipe);
    expect((await drawPage(made.path)).map(nameColor)).toEqual(wanted);
  });

  it('of one page becomes a JPEG; of two it is refused in words', async () => {
    const made = await make(
      'one.pdf',
      limits({ kind: 'format', wanted: ['jpeg'] }, { kind: 'file-size', maxBytes: 200_000 }),
    );
    expect((await sharp(made.path).metadata()).format).toBe('jpeg');
    const { facts } = await inspectMedia(join(folder, 'two.pdf'), { scratchFolder: folder });
    const { plan, refusals } = planOf(facts, limits({ kind: 'format', wanted: ['jpeg'] }));
    expect([plan, refusals[0]?.message]).toEqual([
      null,
      'This document has 2 pages; JPEG holds one picture. Bring in the page that is wanted on its own.',
    ]);
  });

  it.each([
    ['locked.pdf', 'LOCKED'],
    ['cut.pdf', 'TRUNCATED'],
    ['noise.pdf', 'DAMAGED'],
  ])('that cannot be read is told: %s', async (name, code) => {
    const whole = await readFile(join(folder, 'one.pdf'));
    await writeFile(join(folder, 'cut.pdf'), whole.subarray(0, whole.length >> 1));
    await writeFile(
      join(folder, 'noise.pdf'),
      Buffer.concat([Buffer.from('%PDF-1.5\n'), Buffer.alloc(5000, 7), Buffer.from('\n%%EOF\n')]),
    );
    const fault: unknown = await inspectMedia(join(folder, name), { scratchFolder: folder }).catch(
      (error: unknown) => error,
    );
    expect(fault instanceof ApodixError ? fault.code : fault).toBe(code);
  });
});
