import { expect, it } from 'vitest';
import { findQuality } from './find-quality.ts';

/**
 * A made-up coder: bytes grow by a twentieth with each step of quality; the quick one takes a changing share
 * more.
 */
function buildCoders(share: (quality: number) => number) {
  const ran: number[] = [];
  const sizeAt = (quality: number) => Math.round(1000 * 1.05 ** quality);
  return {
    ran,
    sizeAt,
    coders: {
      code: (quality: number) => (ran.push(quality), Promise.resolve({ bytes: sizeAt(quality) })),
      probe: (quality: number) => Promise.resolve(sizeAt(quality) / share(quality)),
      sizeOf: (coded: { bytes: number }) => coded.bytes,
    },
  };
}

it.each([0.4, 0.72, 1.3])(
  'finds the best quality that fits, whatever the quick coder takes beside the real one: %f',
  async (share) => {
    for (const maxBytes of [25_000, 40_000, 60_000, 88_000]) {
      const { coders, sizeAt, ran } = buildCoders((quality) => share + (quality - 60) / 400);
      const wanted = Math.max(
        ...Array.from({ length: 34 }, (_, index) => 60 + index).filter(
          (quality) => sizeAt(quality) <= maxBytes,
        ),
      );
      expect(await findQuality(coders, maxBytes, 60, 93)).toMatchObject({ quality: wanted, fits: true });
      // No quality is coded twice, and hardly any at all.
      expect([new Set(ran).size === ran.length, ran.length <= 6]).toEqual([true, true]);
    }
  },
);

it('gives the best where no bytes are asked for, and the least, told, where not even that fits', async () => {
  expect(await findQuality(buildCoders(() => 0.7).coders, null, 60, 93)).toMatchObject({
    quality: 93,
    fits: true,
    probes: 1,
  });
  expect(await findQuality(buildCoders(() => 0.7).coders, 500, 60, 93)).toMatchObject({
    quality: 60,
    fits: false,
  });
});
