import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { cleanJpeg, countJpegComponents, findProfileSegment, stripJpeg } from './jpeg-segments.ts';

const picture = sharp({ create: { width: 32, height: 24, channels: 3, background: '#4080c0' } });

describe('segments of a JPEG', () => {
  it('loses what tells who, where and with what, and keeps every point', async () => {
    const told = await picture
      .clone()
      .withExif({ IFD0: { Artist: 'Ineke Varga', Model: 'Camera 7' } })
      .withXmp('<rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">Velden</rdf:RDF>')
      .jpeg()
      .toBuffer();
    expect(told.includes('Ineke Varga') && told.includes('Velden')).toBe(true);
    const bare = Buffer.from(stripJpeg(told));
    expect(bare.includes('Ineke Varga') || bare.includes('Velden')).toBe(false);
    expect((await sharp(bare).raw().toBuffer()).equals(await sharp(told).raw().toBuffer())).toBe(true);
  });

  it('keeps the color profile unless it is said elsewhere', async () => {
    const profiled = await picture.clone().withIccProfile('p3').jpeg().toBuffer();
    expect((await sharp(Buffer.from(stripJpeg(profiled))).metadata()).icc).toBeDefined();
    expect(
      (await sharp(Buffer.from(stripJpeg(profiled, { withoutProfile: true }))).metadata()).icc,
    ).toBeUndefined();
  });

  it('leaves a JPEG without any alone', async () => {
    const plain = await picture.clone().jpeg().toBuffer();
    expect(Buffer.from(stripJpeg(plain)).equals(plain)).toBe(true);
  });

  it('counts gray, color and print components; nothing in what is none', async () => {
    const counts = await Promise.all(
      [picture.clone().toColourspace('b-w'), picture.clone(), picture.clone().toColourspace('cmyk')].map(
        async (each) => countJpegComponents(await each.jpeg().toBuffer()),
      ),
    );
    expect(counts).toEqual([1, 3, 4]);
    expect(countJpegComponents(await picture.clone().jpeg({ progressive: true }).toBuffer())).toBe(3);
    expect(
      [Buffer.alloc(0), Buffer.from([0xff, 0xd8]), Buffer.alloc(64)].map((each) => countJpegComponents(each)),
    ).toEqual([null, null, null]);
  });

  it('does not lose the end of one that is cut off in a segment', () => {
    const cut = Buffer.from([0xff, 0xd8, 0xff, 0xe0, 0x00, 0x40, 1, 2, 3]);
    expect(Buffer.from(stripJpeg(cut)).equals(cut)).toBe(true);
  });

  it.each([false, true])(
    'cleans one of everything but its picture (progressive: %s)',
    async (progressive) => {
      const grain = Buffer.from(Uint8Array.from({ length: 96 * 64 * 3 }, (_, at) => (at * 7919) % 251));
      const noisy = sharp(grain, { raw: { width: 96, height: 64, channels: 3 } });
      const told = await noisy
        .withExif({ IFD0: { Artist: 'Ineke Varga' } })
        .withIccProfile('srgb')
        .jpeg({ progressive, quality: 95 })
        .toBuffer();
      // A camera's own segment, and a film after the end, as phones write them.
      const own = Buffer.from([0xff, 0xe5, 0, 10, ...Buffer.from('serial 7')]);
      const film = Buffer.from('film of Velden');
      const whole = Buffer.concat([told.subarray(0, 2), own, told.subarray(2), film]);
      const cleaned = Buffer.from(cleanJpeg(whole) ?? []);
      for (const word of ['Ineke', 'serial', 'Velden']) expect(cleaned.includes(word), word).toBe(false);
      expect((await sharp(cleaned).raw().toBuffer()).equals(await sharp(told).raw().toBuffer())).toBe(true);
      expect((await sharp(cleaned).metadata()).icc).toBeDefined();
    },
  );

  it('gives a profile to one without, and nothing of one that breaks off', async () => {
    const plain = await picture.clone().jpeg().toBuffer();
    const profile = findProfileSegment(await picture.clone().withIccProfile('srgb').jpeg().toBuffer());
    const tagged = Buffer.from(cleanJpeg(plain, profile) ?? []);
    expect((await sharp(tagged).metadata()).icc).toBeDefined();
    expect((await sharp(tagged).raw().toBuffer()).equals(await sharp(plain).raw().toBuffer())).toBe(true);
    expect(cleanJpeg(plain.subarray(0, plain.length - 30))).toBeNull();
  });
});
