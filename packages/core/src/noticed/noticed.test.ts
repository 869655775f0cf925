import { describe, expect, it } from 'vitest';
import { EMPTY_EVIDENCE, type Evidence, type SoundEvidence } from '../series/evidence.ts';
import { measureLikeness, countDifferentBits, isAlike } from '../picture/likeness.ts';
import { convertRgbToLuma, shrinkLuma } from '../picture/rgb-picture.ts';
import { buildSoundFacts, buildVideoFacts } from '../test-support/facts.ts';
import { buildTableScene, createRandom, drawPieceScene } from '../test-support/piece-scene.ts';
import { buildConstantFrameTimes } from '../time/frame-times.ts';
import { measureConditions } from './measure-conditions.ts';
import { noticeTake } from './notice-take.ts';

const COLUMNS = 100;

/** Sound of so many seconds by its level each second, in dB below full scale, on both sides. */
function buildSound(
  left: readonly number[],
  right: readonly number[],
  course: (t: number) => number,
): SoundEvidence {
  const spread = (levels: readonly number[]) =>
    Uint8Array.from(
      { length: levels.length * COLUMNS },
      (_, index) => 2 * (levels[Math.floor(index / COLUMNS)] ?? 0),
    );
  return {
    startUs: 0,
    sides: 2,
    levelLeft: spread(left),
    levelRight: spread(right),
    course: Int16Array.from({ length: left.length * 8000 }, (_, index) =>
      Math.round(32_767 * course(index / 8000)),
    ),
  };
}
const measure = (evidence: Partial<Evidence>, seconds: number) =>
  measureConditions(
    { ...EMPTY_EVIDENCE, ...evidence },
    null,
    buildConstantFrameTimes(0, seconds * 10, { numerator: 10, denominator: 1 }),
    seconds * 1e6,
  );

describe('conditions of a take', () => {
  const random = createRandom(5);
  const noise = () => 0.002 * (random() - 0.5);
  it('tell a side without sound', () => {
    const sound = buildSound([20, 20, 20, 20], [60, 60, 60, 60], noise);
    expect(measure({ sound }, 4).sidesApartDb).toBeCloseTo(40, 0);
    const both = buildSound([20, 20, 20, 20], [21, 21, 21, 21], noise);
    expect(measure({ sound: both }, 4).sidesApartDb).toBeCloseTo(1, 0);
  });
  it('tell the hum under the music', () => {
    const hum = (t: number) =>
      0.01 * Math.sin(2 * Math.PI * 50 * t) + 0.006 * Math.sin(2 * Math.PI * 150 * t);
    const music = (t: number) => (t > 2 ? 0.3 * Math.sin(2 * Math.PI * 440 * t) : 0);
    const levels = [50, 50, 10, 10];
    expect(measure({ sound: buildSound(levels, levels, (t) => hum(t) + music(t) + noise()) }, 4).humHz).toBe(
      50,
    );
    expect(measure({ sound: buildSound(levels, levels, (t) => music(t) + noise()) }, 4).humHz).toBeNull();
  });
  it('tell how long nothing is heard and nothing moves at both ends', () => {
    const levels = [58, 58, 58, 58, 58, 58, 20, 20, 58, 58];
    const size = { widthPx: 4, heightPx: 2 };
    const luma = Uint8Array.from({ length: 100 * 8 }, (_, index) => {
      const frame = Math.floor(index / 8);
      return frame >= 50 && frame < 70 ? 100 + 20 * (frame % 2) : 100;
    });
    const still = measure({ sound: buildSound(levels, levels, noise) }, 10);
    expect(still.emptyHeadUs / 1e6).toBeCloseTo(6, 0);
    const moved = measure(
      { sound: buildSound(levels, levels, noise), signatures: { ...size, luma, frameCount: 100 } },
      10,
    );
    // Somebody comes in a second before the first note.
    expect(moved.emptyHeadUs / 1e6).toBeLessThan(5.1);
    expect(moved.emptyTailUs / 1e6).toBeCloseTo(1.8, 0);
  });
  it('measure light by the colored pictures', () => {
    const rgb = Uint8Array.from({ length: 2 * 4 * 3 }, (_, index) => [90, 70, 50][index % 3] ?? 0);
    const colors = { widthPx: 2, heightPx: 2, rgb, frameIndices: Int32Array.of(0, 5) };
    const { brightness, warmth } = measure({ colors }, 1);
    // 0.2126 · 90 + 0.7152 · 70 + 0.0722 · 50, by hand.
    expect(brightness).toBeCloseTo(72.8, 0);
    expect(warmth).toBeCloseTo(1.8, 2);
  });
});

describe('what is noticed', () => {
  const conditions = {
    brightness: 120,
    warmth: 1,
    blur: 0.2,
    sidesApartDb: 0,
    humHz: null,
    emptyHeadUs: 0,
    emptyTailUs: 0,
  };
  const codes = (change: object) =>
    noticeTake(buildVideoFacts({}, { conditions, ...change })).map(({ code }) => code);
  it.each([
    [{}, []],
    [{ sound: buildSoundFacts({ clippedCount: 3 }).sound, locationPresent: true }, ['clipped', 'location']],
    [{ conditions: { ...conditions, humHz: 50, brightness: 30 } }, ['hum', 'dark']],
    [{ conditions: { ...conditions, emptyHeadUs: 9_000_000, sidesApartDb: 30 } }, ['one-side', 'head']],
    [{ sound: null }, ['silent']],
    [{ unread: ['sound'], sound: null }, ['sound-unread', 'silent']],
  ])('%j: %j', (change, expected) => {
    expect(codes(change)).toEqual(expected);
  });
});

describe('what was recorded otherwise than most players like it', () => {
  it('is told, with what is done, and nothing of it as a loss', () => {
    const facts = buildVideoFacts(
      {
        rotationDegrees: 90,
        hdr: 'hlg',
        bitDepth: 10,
        rateKind: 'variable',
        frameRate: { numerator: 60, denominator: 1 },
        interlace: 'top-field-first',
      },
      { sound: buildSoundFacts({ loudnessLufs: -31 }).sound },
    );
    const noticed = noticeTake(facts);
    expect(noticed.map(({ code }) => code)).toEqual([
      'quiet',
      'sideways',
      'hdr',
      'variable-rate',
      'interlaced',
      'many-pictures',
    ]);
    expect(noticed.every(({ what, then, isLoss }) => what && then && !isLoss)).toBe(true);
    expect(noticed[0]?.what).toBe('Quiet (−31.0 LUFS).');
  });
});

describe('likeness', () => {
  const picture = (seed: number) => convertRgbToLuma(drawPieceScene(buildTableScene(seed)));
  it('stays nearly the same through another size and exposure, and is another for another picture', () => {
    const first = picture(3);
    const smaller = shrinkLuma(first, { widthPx: 211, heightPx: 119 });
    const brighter = { ...first, luma: first.luma.map((value) => Math.min(255, value * 1.12 + 6)) };
    const [own, small, bright, other] = [first, smaller, brighter, picture(11)].map(measureLikeness);
    expect(own).toMatch(/^[0-9a-f]{16}$/);
    expect(isAlike(own ?? null, small ?? null)).toBe(true);
    expect(isAlike(own ?? null, bright ?? null)).toBe(true);
    expect(isAlike(own ?? null, other ?? null)).toBe(false);
    expect(countDifferentBits(own ?? '', other ?? '')).toBeGreaterThan(10);
  });
  it('tells no two plain pictures apart, and says so', () => {
    const plain = { widthPx: 64, heightPx: 64, luma: new Uint8Array(4096).fill(90) };
    expect(measureLikeness(plain)).toBeNull();
    expect(isAlike(null, null)).toBe(false);
  });
});
