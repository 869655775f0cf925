import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { buildRgbToRgb, buildRgbToXyz, multiply, primariesTable } from './spaces.ts';
import { REFERENCE_WHITE_NITS, transferFunctions } from './transfer.ts';

describe('transfer functions', () => {
  it.each(Object.entries(transferFunctions))('%s goes both ways', (_id, { toLight, toSignal }) =>
    fc.assert(
      fc.property(fc.double({ min: 0.001, max: 0.999, noNaN: true }), (signal) => {
        expect(toSignal(toLight(signal))).toBeCloseTo(signal, 2);
      }),
    ),
  );

  it('have the points that the standards print', () => {
    // BT.2408-7, table 1: 58.1 % PQ is 203 cd/m²; BT.2100 note: half of HLG is a twelfth of its peak.
    expect(transferFunctions.pq.toLight(0.5807) * REFERENCE_WHITE_NITS).toBeCloseTo(203, 0);
    expect(transferFunctions.pq.toLight(1) * REFERENCE_WHITE_NITS).toBeCloseTo(10_000, 0);
    expect(transferFunctions.hlg.toLight(0.5)).toBeCloseTo(1 / 12, 6);
    expect(transferFunctions.hlg.toLight(1)).toBeCloseTo(1, 4);
    // IEC 61966-2-1: middle grey of 18 % lies at 46.1 %.
    expect(transferFunctions.srgb.toSignal(0.18)).toBeCloseTo(0.4614, 3);
    expect(transferFunctions.bt709.toSignal(0.18)).toBeCloseTo(0.409, 3);
  });
});

describe('color spaces', () => {
  it('give the matrix of BT.709 and that from BT.2020 to it as printed', () => {
    const toXyz = buildRgbToXyz(primariesTable.bt709);
    const printed = [0.4124, 0.3576, 0.1805, 0.2126, 0.7152, 0.0722, 0.0193, 0.1192, 0.9505];
    toXyz.flat().forEach((value, index) => expect(value).toBeCloseTo(printed[index] ?? 0, 3));
    // ITU-R BT.2407-0, annex 2.
    const narrow = [1.6605, -0.5876, -0.0728, -0.1246, 1.1329, -0.0083, -0.0182, -0.1006, 1.1187];
    buildRgbToRgb('bt2020', 'bt709')
      .flat()
      .forEach((value, index) => expect(value).toBeCloseTo(narrow[index] ?? 0, 3));
  });

  it('keep white white', () => {
    for (const from of Object.keys(primariesTable) as (keyof typeof primariesTable)[]) {
      const white = multiply(buildRgbToRgb(from, 'bt709'), [1, 1, 1]);
      for (const share of white) expect(share).toBeCloseTo(1, 6);
    }
  });
});
