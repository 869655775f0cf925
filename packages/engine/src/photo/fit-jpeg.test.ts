import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { fitJpeg } from './fit-jpeg.ts';

const [W, H] = [330, 230];
/** A print: soft tones, hard strokes and the grain of a phone. */
const points = Buffer.from(
  Uint8Array.from({ length: W * H * 3 }, (_, at) => {
    const point = Math.floor(at / 3);
    const [x, y] = [point % W, Math.floor(point / W)];
    const grain = ((at * 2_654_435_761) % 4_294_967_296) / 4_294_967_296 - 0.5;
    const stroke = Math.sin(x / 3 + Math.sin(y / 20) * 6) > 0.4 ? 70 : 0;
    return Math.max(0, Math.min(255, 110 + 50 * Math.sin(x / 60 + at) + stroke + 10 * grain));
  }),
);
const picture = sharp(points, { raw: { width: W, height: H, channels: 3 } });
const lossOf = async (coded: Buffer) => {
  const shown = await sharp(coded).raw().toBuffer();
  return points.reduce((sum, level, at) => sum + (level - (shown[at] ?? 0)) ** 2, 0) / points.length;
};

describe('a JPEG within bytes', () => {
  it('never exceeds them, and keeps more the more there are', async () => {
    let last = Infinity;
    for (const maxBytes of [15_000, 21_000, 31_000, 52_000]) {
      const { coded, fits, probes } = await fitJpeg(picture, maxBytes, 30, 98, 'srgb');
      expect((await sharp(coded).metadata()).icc).toBeDefined();
      expect([fits, coded.length <= maxBytes, probes <= 8]).toEqual([true, true, true]);
      expect(coded.length / maxBytes).toBeGreaterThan(0.97);
      const loss = await lossOf(coded);
      expect(loss).toBeLessThan(last);
      last = loss;
    }
  });

  it('loses no more than the best whole quality of the usual coding that fits', async () => {
    const maxBytes = 26_000;
    const { coded } = await fitJpeg(picture, maxBytes, 30, 98);
    let usual = Infinity;
    for (let quality = 60; quality <= 98; quality += 2) {
      const each = await picture.clone().jpeg({ quality, mozjpeg: true }).toBuffer();
      if (each.length <= maxBytes) usual = Math.min(usual, await lossOf(each));
    }
    expect(await lossOf(coded)).toBeLessThanOrEqual(usual * 1.01);
  });

  it('gives the least, and says so, where not even that fits', async () => {
    const { coded, quality, fits } = await fitJpeg(picture, 2000, 62, 98);
    expect([quality, fits, coded.length > 2000]).toEqual([62, false, true]);
  });

  it('codes a picture of a few points', async () => {
    const tiny = sharp(Buffer.alloc(7 * 5 * 3, 90), { raw: { width: 7, height: 5, channels: 3 } });
    expect((await fitJpeg(tiny, 5000, 62, 98)).fits).toBe(true);
  });
});
