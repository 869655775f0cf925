import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { createPlainColor, isPlainColor } from './color-settings.ts';
import { buildColorTable } from './color-table.ts';
import { readCube, writeCube } from './cube-file.ts';
import { LookTable, MOST_LOOK_EDGE, packLook, unpackLook } from './look-table.ts';
import { readColorTable, type ColorTable } from './read-table.ts';

/** A table that exchanges red and blue and halves green: nothing of it could be a coincidence. */
function exchange(edge: number): ColorTable {
  const values = new Float32Array(edge ** 3 * 3);
  let at = 0;
  for (let b = 0; b < edge; b += 1)
    for (let g = 0; g < edge; g += 1)
      for (let r = 0; r < edge; r += 1) {
        values.set([b / (edge - 1), g / (edge - 1) / 2, r / (edge - 1)], at);
        at += 3;
      }
  return { edge, values };
}
const read = (table: ColorTable, r: number, g: number, b: number) => {
  const out = [0, 0, 0];
  readColorTable(table, r, g, b, out);
  return out;
};

describe('a table of somebody else’s', () => {
  it.each([2, 9, 17, 33, 64])('of %i points is kept and read back, whatever its size', (edge) => {
    const look = packLook('Exchange', readCube(writeCube(exchange(edge))));
    expect(LookTable.parse(look).edge).toBe(Math.min(edge, MOST_LOOK_EDGE));
    fc.assert(
      fc.property(
        fc.tuple(
          fc.double({ min: 0, max: 1, noNaN: true }),
          fc.double({ min: 0, max: 1, noNaN: true }),
          fc.double({ min: 0, max: 1, noNaN: true }),
        ),
        ([r, g, b]) => {
          const [x = 0, y = 0, z = 0] = read(unpackLook(look), r, g, b);
          expect(Math.max(Math.abs(x - b), Math.abs(y - g / 2), Math.abs(z - r))).toBeLessThan(1e-4);
        },
      ),
      { numRuns: 60 },
    );
  });

  it('comes after everything else, in the one table that preview, maker and proof read', () => {
    const look = packLook('Exchange', exchange(17));
    const settings = { ...createPlainColor(), exposure: 1 };
    const [own, both] = [buildColorTable(settings), buildColorTable({ ...settings, look })];
    for (const [r, g, b] of [
      [0.2, 0.3, 0.1],
      [0.5, 0.1, 0.6],
      [0.05, 0.4, 0.25],
    ] as const) {
      const [x = 0, y = 0, z = 0] = read(own, r, g, b);
      const found = read(both, r, g, b);
      [z, y / 2, x].forEach((wanted, side) => expect(found[side]).toBeCloseTo(wanted, 3));
    }
    expect(isPlainColor({ ...createPlainColor(), look })).toBe(false);
  });

  it('is refused where it does not hold what its size says', () => {
    const look = packLook('Exchange', exchange(5));
    expect(LookTable.safeParse({ ...look, edge: 6 }).success).toBe(false);
    expect(LookTable.safeParse({ ...look, values: `${look.values.slice(0, -4)}*&%$` }).success).toBe(false);
    expect(LookTable.safeParse({ ...look, name: '' }).success).toBe(false);
  });
});
