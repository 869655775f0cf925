import { describe, expect, it } from 'vitest';
import { createPlainColor } from '../color/color-settings.ts';
import { isReshaped } from '../recipe/picture-wish.ts';
import { createPlainRecipe } from '../recipe/recipe.ts';
import { COURSE_RATE_HZ, type Evidence, type SoundEvidence } from '../series/evidence.ts';
import { buildTimeline } from '../timeline/timeline.ts';
import { measureMendedChange, mendSoundEvidence, readFade } from './mend-sound.ts';
import { chooseShapedSizes, shapeEvidence, softenEvidence } from './shape-evidence.ts';

const plain = createPlainRecipe().picture;
const size = { widthPx: 640, heightPx: 320 };
/** Level by place, so that it tells where in the recording a point is from. */
const colors = {
  widthPx: 32,
  heightPx: 16,
  rgb: Uint8Array.from({ length: 32 * 16 * 3 }, (_, at) => {
    const point = Math.floor(at / 3);
    return (point % 32) * 4 + Math.floor(point / 32) * 6;
  }),
  frameIndices: Int32Array.of(0),
};
const luma = Uint8Array.from({ length: 32 * 16 }, (_, at) => colors.rgb[at * 3] ?? 0);
const evidence: Evidence = {
  signatures: { widthPx: 32, heightPx: 16, luma, frameCount: 1 },
  colors,
  sound: null,
};

describe('evidence of a recording', () => {
  it('stays itself where nothing is reshaped', () => {
    expect(isReshaped({ ...plain, turnDegrees: 90 })).toBe(false);
    expect(shapeEvidence(evidence, size, plain)).toBe(evidence);
    expect(softenEvidence(evidence, plain)).toBe(evidence);
  });

  it('of a part is that part, at the same grain, with the same blur as the file’s own', () => {
    const wish = { ...plain, crop: { x: 0.5, y: 0.5, width: 0.5, height: 0.5 } };
    expect(chooseShapedSizes(evidence, wish)?.color).toEqual({ widthPx: 16, heightPx: 8 });
    const shaped = shapeEvidence(evidence, size, wish).colors;
    // In the middle of the part: column 24 and row 12 of the recording.
    expect(Math.abs((shaped?.rgb[(4 * 16 + 8) * 3] ?? 0) - (24 * 4 + 12 * 6))).toBeLessThanOrEqual(1);
    const made = {
      ...evidence,
      colors: { ...colors, widthPx: 16, heightPx: 8, rgb: colors.rgb.subarray(0, 16 * 8 * 3) },
    };
    expect(softenEvidence(made, wish).colors?.rgb).not.toEqual(made.colors.rgb);
  });

  it('colored has the colors of the table, and brightness follows them', () => {
    const wish = { ...plain, color: { ...createPlainColor(), exposure: 1 } };
    const shaped = shapeEvidence(evidence, size, wish);
    const [before, after] = [colors.rgb[600] ?? 0, shaped.colors?.rgb[600] ?? 0];
    // Twice the light of a level (IEC 61966-2-1).
    const toLight = (level: number) => ((level / 255 + 0.055) / 1.055) ** 2.4;
    expect(toLight(after) / toLight(before)).toBeCloseTo(2, 1);
    expect(Math.abs((shaped.signatures?.luma[200] ?? 0) - after)).toBeLessThanOrEqual(1);
  });
});

describe('sound evidence', () => {
  const wish = createPlainRecipe().sound;
  const seconds = 4;
  const tone = (hz: number, amplitude: number) =>
    Int16Array.from(
      { length: seconds * COURSE_RATE_HZ },
      (_, at) => amplitude * 32_767 * Math.sin((2 * Math.PI * hz * at) / COURSE_RATE_HZ),
    );
  const sound: SoundEvidence = {
    startUs: 0,
    sides: 2,
    course: tone(440, 0.25),
    levelLeft: new Uint8Array(seconds * 100).fill(20),
    levelRight: new Uint8Array(seconds * 100).fill(120),
  };
  const timeline = buildTimeline({
    recipe: { spans: [] },
    sources: [{ frames: null, constantRate: null, endUs: seconds * 1e6 }],
    rate: null,
  });

  it('stays itself where it is only louder; later it begins later; one side is on both', () => {
    expect(mendSoundEvidence(sound, { ...wish, gainDb: 4 })).toBe(sound);
    const made = mendSoundEvidence(sound, { ...wish, laterUs: 40_000, sides: 'left' });
    expect([made.startUs, made.levelRight[5]]).toEqual([40_000, 20]);
    // A quarter of full scale: 12 dB below it, and 3 dB for a sine; in steps of half a decibel.
    expect(mendSoundEvidence(sound, { ...wish, sides: 'mixed' }).levelLeft[50]).toBe(30);
  });

  it('without its hum is as much quieter as that was', () => {
    const humming = { ...sound, course: tone(100, 0.25) };
    const made = mendSoundEvidence(humming, { ...wish, humHz: 50 });
    expect((made.levelLeft[300] ?? 0) - (humming.levelLeft[300] ?? 0)).toBeGreaterThan(60);
    const kept = mendSoundEvidence(sound, { ...wish, humHz: 50 });
    expect(Math.abs((kept.levelLeft[300] ?? 0) - 20)).toBeLessThanOrEqual(1);
  });

  it('tells what a limiter takes of a gain, and nothing where there is room', () => {
    const change = (gainDb: number) =>
      measureMendedChange([sound], timeline, { ...wish, gainDb, isLimited: true }, -12);
    expect(Math.abs(change(3))).toBeLessThan(0.05);
    // 16 dB would bring its peaks to +4 dBTP, 5.7 dB over where they are held.
    expect(change(16)).toBeGreaterThan(-6.5);
    expect(change(16)).toBeLessThan(-4.5);
    expect(measureMendedChange([sound], timeline, { ...wish, gainDb: 16 }, -12)).toBe(0);
  });

  it('comes up and dies away straight in amplitude', () => {
    const fades = { fadeInUs: 1_000_000, fadeOutUs: 500_000 };
    expect([0, 500_000, 2_000_000, 3_750_000, 4_000_000].map((us) => readFade(fades, us, 4_000_000))).toEqual(
      [0, 0.5, 1, 0.5, 0],
    );
  });
});
