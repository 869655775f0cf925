import { describe, expect, it } from 'vitest';
import { convertPatchToLight, fitTarget } from '../color/fit-target.ts';
import { buildColorLook } from '../color/color-table.ts';
import { convertLightToLab, measureDeltaE } from '../color/lab.ts';
import { readPatchValues, USUAL_PATCHES } from '../color/patches-24.ts';
import { transferFunctions } from '../color/transfer.ts';
import {
  buildLampScene,
  drawLampScene,
  glowAsTube,
  radiate,
  seeReflected,
} from '../test-support/lamp-scene.ts';
import { drawTarget, readPatch } from '../test-support/target-scene.ts';
import { findTarget } from './find-target.ts';
import type { RgbPicture } from './rgb-picture.ts';

const scene = (lamp: readonly number[], more = {}) =>
  drawLampScene(
    buildLampScene(71, {
      lamp,
      piece: drawTarget,
      over: { u: 0.3, v: -0.2, height: 4 },
      vignette: 0,
      noise: 1,
      exposure: 0.8,
      corners: [
        { x: 0.25, y: 0.3 },
        { x: 0.75, y: 0.27 },
        { x: 0.77, y: 0.72 },
        { x: 0.24, y: 0.7 },
      ],
      ...more,
    }),
  );

/** Mean difference of all patches, by the published values, once settings have been applied. */
function measureMean(
  lamp: readonly number[],
  settings: Parameters<typeof buildColorLook>[0],
  by: number,
): number {
  const look = buildColorLook(settings);
  const { toSignal, toLight } = transferFunctions.srgb;
  const white = Math.max(...seeReflected(lamp, [0.88, 0.88, 0.88]));
  let sum = 0;
  for (let patch = 0; patch < 24; patch += 1) {
    const seen = seeReflected(lamp, readPatch(patch)).map((side) =>
      toSignal(Math.max(0, Math.min(1, (side * by) / white))),
    ) as unknown as readonly [number, number, number];
    const shown = look(seen).map(toLight) as [number, number, number];
    sum += measureDeltaE(convertLightToLab(...shown), convertLightToLab(...readPatch(patch)));
  }
  return sum / 24;
}

describe('findTarget', () => {
  it.each([
    ['2 500 K', radiate(2500), 3],
    ['5 000 K', radiate(5000), 2],
    ['a fluorescent tube', glowAsTube(), 3],
  ])('finds it under %s and puts its colors right', (_, lamp, most) => {
    const found = findTarget(scene(lamp));
    expect(found?.corners[0].x).toBeCloseTo(0.254, 1);
    expect(found?.fit.meanAfter).toBeLessThan(most);
    expect(found?.fit.meanAfter).toBeLessThan((found?.fit.meanBefore ?? 0) / 2);
    if (found) expect(measureMean(lamp, found.fit.settings, 0.75)).toBeLessThan(most + 1);
  });

  it('knows which way round it lies', () => {
    const upside = scene(radiate(5000), {
      corners: [
        { x: 0.75, y: 0.72 },
        { x: 0.25, y: 0.7 },
        { x: 0.25, y: 0.28 },
        { x: 0.77, y: 0.3 },
      ],
    });
    expect(findTarget(upside)?.corners[0].y).toBeGreaterThan(0.6);
  });

  it('takes no drawing and no plain table for one', () => {
    expect(findTarget(drawLampScene(buildLampScene(3)))).toBeNull();
    const grey: RgbPicture = {
      widthPx: 80,
      heightPx: 60,
      bands: 3,
      bytes: new Uint8Array(80 * 60 * 3).fill(128),
    };
    expect(findTarget(grey)).toBeNull();
  });

  it('still serves where part of it is hidden', () => {
    const picture = scene(radiate(4000));
    const bytes = Uint8Array.from(picture.bytes);
    for (let y = 0; y < 480; y += 1)
      for (let x = 0; x < 640; x += 1) if (x > 400 && y < 220) bytes.set([150, 120, 100], (y * 640 + x) * 3);
    const found = findTarget({ ...picture, bytes });
    expect(found?.fit.meanAfter).toBeLessThan(3);
    const hidden = found?.fit.after.filter((each) => each === null).length ?? 0;
    expect(hidden).toBeGreaterThan(0);
    expect(hidden).toBeLessThan(8);
  });

  it('has an answer for a mosaic of hundreds of tiles, and it is none', () => {
    const [widthPx, heightPx] = [640, 480];
    const bytes = Uint8Array.from({ length: widthPx * heightPx * 3 }, (_, at) => {
      const [x, y] = [Math.floor(at / 3) % widthPx, Math.floor(at / 3 / widthPx)];
      if (x % 20 < 3 || y % 20 < 3) return 30;
      return 60 + ((Math.floor(x / 20) * 37 + Math.floor(y / 20) * 61 + (at % 3) * 53) % 180);
    });
    expect(findTarget({ widthPx, heightPx, bytes, bands: 3 })).toBeNull();
  });
});

describe('fitTarget', () => {
  it('knows published values by their light in daylight', () => {
    const off = USUAL_PATCHES.map((lab, patch) => {
      const own = convertPatchToLight(lab).map((side) => Math.max(0, side)) as [number, number, number];
      return measureDeltaE(convertLightToLab(...own), convertLightToLab(...readPatch(patch)));
    });
    // Both kinds of published values were rounded apart from each other, one beyond the primaries most.
    expect(Math.max(...off)).toBeLessThan(4);
    expect(off.reduce((sum, each) => sum + each, 0) / 24).toBeLessThan(1.8);
    // L* of 50 is 18.42 % light, and a grey is the same on every side (CIE 15:2018).
    for (const side of convertPatchToLight([50, 0, 0])) expect(side).toBeCloseTo(0.1842, 3);
  });

  it('says nothing where too few patches can be read', () =>
    expect(fitTarget(USUAL_PATCHES.map((_, index) => (index < 10 ? readPatch(index) : null)))).toBeNull());
});

describe('readPatchValues', () => {
  it('reads lines and JSON, and says what is missing', () => {
    const lines = USUAL_PATCHES.map((lab, index) => `${index + 1}; ${lab.join('; ')}`).join('\n');
    expect(readPatchValues(lines)).toEqual(USUAL_PATCHES);
    const json = JSON.stringify({ patches: USUAL_PATCHES.map((lab) => ({ lab })) });
    expect(readPatchValues(json)).toEqual(USUAL_PATCHES);
    expect(() => readPatchValues('50, 0, 0')).toThrow('1 patches');
    expect(() => readPatchValues('{')).toThrow('L*, a* and b*');
  });
});
