import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { patches } from '../test-support/patches.ts';
import { createPlainColor, isPlainColor, type ColorSettings } from './color-settings.ts';
import { buildColorLook, buildColorTable, measureSpread } from './color-table.ts';
import { readColorTable } from './read-table.ts';
import { readCube, writeCube } from './cube-file.ts';
import { convertLightToLab, convertRgb8ToLab, measureDeltaE, readLight } from './lab.ts';
import type { Triple } from './spaces.ts';
import { buildAdaptation, describeLight, describeNeutral, readChromaticity } from './white.ts';

const settings = (changes: Partial<ColorSettings>): ColorSettings => ({ ...createPlainColor(), ...changes });
const toLight = (signal: number) => (signal <= 0.04045 ? signal / 12.92 : ((signal + 0.055) / 1.055) ** 2.4);

describe('a light', () => {
  // CIE 15:2018, table T.3: standard illuminants A and D65, and their correlated color temperatures.
  it.each([
    ['A', [0.44758, 0.40745], 2856, 0],
    ['D65', [0.31272, 0.32903], 6504, 0.0032],
  ] as const)('of standard illuminant %s is told by its temperature', (_name, xy, kelvin, tint) => {
    const light = describeLight(xy);
    expect(Math.abs(light.kelvin - kelvin) / kelvin).toBeLessThan(0.004);
    expect(Math.abs(light.tint - tint)).toBeLessThan(0.0006);
  });

  it('comes back from its chromaticity', () =>
    fc.assert(
      fc.property(
        fc.double({ min: 1800, max: 12_000, noNaN: true }),
        fc.double({ min: -0.03, max: 0.03, noNaN: true }),
        (kelvin, tint) => {
          const found = describeLight(readChromaticity({ kelvin, tint }));
          expect(Math.abs(1e6 / found.kelvin - 1e6 / kelvin)).toBeLessThan(2);
          expect(Math.abs(found.tint - tint)).toBeLessThan(0.001);
        },
      ),
      { numRuns: 60 },
    ));

  it('put right makes what is white under it white, and leaves daylight alone', () => {
    // Light of the BT.709 primaries that a white sheet under illuminant A has (IEC 61966-2-1 matrix).
    const [x, y, z] = [0.44758 / 0.40745, 1, (1 - 0.44758 - 0.40745) / 0.40745];
    const lamp: Triple = [
      3.2406 * x - 1.5372 * y - 0.4986 * z,
      -0.9689 * x + 1.8758 * y + 0.0415 * z,
      0.0557 * x - 0.204 * y + 1.057 * z,
    ];
    const white = describeNeutral(lamp);
    const matrix = buildAdaptation(white);
    const made = matrix.map((row) => row[0] * lamp[0] + row[1] * lamp[1] + row[2] * lamp[2]);
    for (const side of made) expect(Math.abs(side - (made[1] ?? 0))).toBeLessThan(0.01);
    const daylight = buildAdaptation(describeLight([0.3127, 0.329]));
    daylight.forEach((row, index) =>
      row.forEach((value, column) => expect(value).toBeCloseTo(index === column ? 1 : 0, 2)),
    );
  });

  it('of the 24 patches under a lamp: halved and more, greys to within 1', () => {
    const gain = [1, 0.62, 0.3] as const;
    const light = describeNeutral(gain);
    const look = buildColorLook(
      settings({ white: light, exposure: -Math.log2(0.2126 + 0.7152 * 0.62 + 0.0722 * 0.3) }),
    );
    const toSignal = (value: number) =>
      value <= 0.0031308 ? 12.92 * value : 1.055 * value ** (1 / 2.4) - 0.055;
    let [before, after, greys] = [0, 0, 0];
    for (const [index, { srgb }] of patches.entries()) {
      const truth = convertRgb8ToLab(...srgb);
      const lit = srgb.map((level, side) =>
        toSignal(readLight(level) * (gain[side] ?? 1)),
      ) as unknown as Triple;
      const own = measureDeltaE(convertLightToLab(...(lit.map(toLight) as unknown as Triple)), truth);
      const put = measureDeltaE(convertLightToLab(...(look(lit).map(toLight) as unknown as Triple)), truth);
      before += own / 24;
      after += put / 24;
      if (index >= 18) greys = Math.max(greys, put);
    }
    expect(after).toBeLessThan(before / 2);
    expect(greys).toBeLessThan(1.2);
  });
});

describe('a look', () => {
  const gray = (signal: number): Triple => [signal, signal, signal];

  it('that does nothing leaves every color as it is', () => {
    const look = buildColorLook(createPlainColor());
    for (const { srgb } of patches) {
      const signal = srgb.map((level) => level / 255) as unknown as Triple;
      look(signal).forEach((side, index) => expect(side).toBeCloseTo(signal[index] ?? 0, 5));
    }
    expect(isPlainColor(createPlainColor())).toBe(true);
    expect(isPlainColor(settings({ shadows: 0.1 }))).toBe(false);
  });

  it('one stop doubles the light', () => {
    const look = buildColorLook(settings({ exposure: 1 }));
    for (const signal of [0.1, 0.3, 0.5])
      expect(toLight(look(gray(signal))[0])).toBeCloseTo(2 * toLight(signal), 5);
  });

  it('one stop spreads the dark by the root that levels are coded with, a warm lamp its blue still more', () => {
    expect(measureSpread(createPlainColor())).toBe(1);
    const brighter = measureSpread({ ...createPlainColor(), exposure: 1 });
    // IEC 61966-2-1: signals follow light by a power of about 1 / 2.2 there.
    expect(brighter).toBeGreaterThan(2 ** (1 / 2.6));
    expect(brighter).toBeLessThan(2 ** (1 / 1.8));
    const lamp = { ...createPlainColor(), exposure: 1, white: { kelvin: 2900, tint: 0 } };
    expect(measureSpread(lamp)).toBeGreaterThan(brighter * 1.2);
  });

  it('contrast leaves black, mid grey and white where they are, and steepens between', () => {
    const look = buildColorLook(settings({ contrast: 0.5 }));
    const mid = 1.055 * 0.18 ** (1 / 2.4) - 0.055;
    for (const signal of [0, mid, 1]) expect(look(gray(signal))[0]).toBeCloseTo(signal, 4);
    expect(look(gray(mid + 0.1))[0]).toBeGreaterThan(mid + 0.12);
    expect(look(gray(mid - 0.1))[0]).toBeLessThan(mid - 0.12);
  });

  it('soft bright parts end below white where a stop more would cut them off', () => {
    const hard = buildColorLook(settings({ exposure: 1 }));
    const soft = buildColorLook(settings({ exposure: 1, highlights: 1 }));
    expect(hard(gray(0.8))[0]).toBeCloseTo(1, 9);
    expect(soft(gray(0.8))[0]).toBeLessThan(0.97);
    expect(soft(gray(0.9))[0]).toBeGreaterThan(soft(gray(0.8))[0]);
    expect(soft(gray(0.2))[0]).toBeCloseTo(hard(gray(0.2))[0], 4);
  });

  it('richness leaves greys grey, and skin follows less than a blue', () => {
    const look = buildColorLook(settings({ richness: 0.6 }));
    look(gray(0.4)).forEach((side) => expect(side).toBeCloseTo(0.4, 3));
    const chroma = (signal: Triple) => {
      const { a, b } = convertLightToLab(...(signal.map(toLight) as unknown as Triple));
      return Math.hypot(a, b);
    };
    const grown = (signal: Triple) => chroma(look(signal)) / chroma(signal);
    const [skin, blue] = [patches[1], patches[2]].map(
      (patch) => patch?.srgb.map((level) => level / 255) as unknown as Triple,
    );
    if (!skin || !blue) throw new Error('The patches are there.');
    expect(grown(blue)).toBeGreaterThan(1.4);
    expect(grown(skin)).toBeLessThan(1.35);
    expect(grown(skin)).toBeGreaterThan(1.05);
  });

  it('never turns a darker grey into a lighter one, whatever is asked for', () =>
    fc.assert(
      fc.property(
        fc.record({
          exposure: fc.double({ min: -3, max: 3, noNaN: true }),
          shadows: fc.double({ min: 0, max: 1, noNaN: true }),
          highlights: fc.double({ min: 0, max: 1, noNaN: true }),
          contrast: fc.double({ min: -1, max: 1, noNaN: true }),
        }),
        (changes) => {
          const look = buildColorLook(settings(changes));
          let before = -1;
          for (let step = 0; step <= 64; step += 1) {
            const [red, green, blue] = look(gray(step / 64));
            expect(red).toBeGreaterThanOrEqual(before - 1e-9);
            expect(Math.max(Math.abs(red - green), Math.abs(red - blue))).toBeLessThan(1e-6);
            before = red;
          }
          expect(before).toBeLessThanOrEqual(1);
        },
      ),
      { numRuns: 60 },
    ));
});

describe('a table', () => {
  const wanted = settings({
    white: { kelvin: 3100, tint: 0.006 },
    exposure: 0.5,
    shadows: 0.2,
    contrast: 0.15,
  });
  const table = buildColorTable(wanted);

  it('gives what the look gives: just so at its points, within three levels between', () => {
    const look = buildColorLook(wanted);
    const out = [0, 0, 0];
    readColorTable(table, 8 / 32, 16 / 32, 20 / 32, out);
    look([8 / 32, 16 / 32, 20 / 32]).forEach((side, index) => expect(out[index]).toBeCloseTo(side, 5));
    let worst = 0;
    for (const { srgb } of patches) {
      const signal = srgb.map((level) => level / 255) as unknown as Triple;
      readColorTable(table, ...signal, out);
      look(signal).forEach((side, index) => (worst = Math.max(worst, Math.abs(side - (out[index] ?? 0)))));
    }
    expect(worst * 255).toBeLessThan(3.2);
  });

  it('reads anything straight from a straight table, the corners too', () => {
    const straight = {
      edge: 5,
      values: Float32Array.from({ length: 375 }, (_, at) => {
        const point = Math.floor(at / 3);
        return [point % 5, Math.floor(point / 5) % 5, Math.floor(point / 25)][at % 3]! / 4;
      }),
    };
    const out = [0, 0, 0];
    fc.assert(
      fc.property(
        fc.tuple(...([0, 1, 2] as const).map(() => fc.double({ min: -0.2, max: 1.2, noNaN: true }))),
        (signal) => {
          readColorTable(straight, signal[0] ?? 0, signal[1] ?? 0, signal[2] ?? 0, out);
          out.forEach((side, index) =>
            expect(side).toBeCloseTo(Math.max(0, Math.min(1, signal[index] ?? 0)), 5),
          );
        },
      ),
    );
  });

  it('goes out as a .cube file and comes back', () => {
    const back = readCube(writeCube(table, 'A "warm" hall'));
    expect(back.edge).toBe(33);
    expect(back.values.every((value, at) => Math.abs(value - (table.values[at] ?? 9)) < 1e-6)).toBe(true);
    expect(
      readCube(
        '# made elsewhere\r\nLUT_3D_SIZE 2\r\nDOMAIN_MIN 0 0 0\r\nDOMAIN_MAX 1 1 1\r\n' +
          '0 0.5 1\r\n'.repeat(8),
      ).values[1],
    ).toBe(0.5);
  });

  it.each([
    ['nothing', '', 'size'],
    ['too few colors', 'LUT_3D_SIZE 2\n0 0 0\n', '8 colors'],
    ['words', 'LUT_3D_SIZE 2\nred green blue\n', 'Line 2'],
    ['one dimension', 'LUT_1D_SIZE 4\n0 0 0\n', 'three dimensions'],
    ['another range', 'LUT_3D_SIZE 2\nDOMAIN_MAX 4 4 4\n', '0 to 1'],
  ])('that holds %s is refused in words', (_name, text, words) =>
    expect(() => readCube(text)).toThrow(words),
  );
});
