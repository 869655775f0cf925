import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { convertSsimToClarity, describeClarity } from './clarity.ts';
import { buildCurves, buildHull, chooseCurve, readCurve, readCurveAtCrf, type Curve } from './curves.ts';
import { findPreference } from './preference.ts';
import type { FitSamples } from './samples.ts';
import { weighSpans } from './weigh-spans.ts';

/**
 * Samples of a made-up coder: bytes double every 6 rate factors and grow with the lines; what is missing to
 * likeness halves with four times the bytes.
 */
function buildSamples(windows: readonly number[], rates: (window: number) => number): FitSamples {
  const points = [1080, 720, 360].flatMap((lines) =>
    [20, 27, 34].map((crf) => {
      const bytes = windows.map(
        (_, index) => rates(index) * 2 * (lines / 1080) ** 1.5 * 2 ** ((27 - crf) / 6),
      );
      const floor = { 1080: 0, 720: 0.03, 360: 0.1 }[lines] ?? 0;
      const ssim = bytes.map((size) => 1 - floor - 0.05 * (2e6 / size) ** 0.5 * (lines / 1080) ** 1.4);
      return {
        lines,
        rateDivisor: 1 as const,
        crf,
        bytes,
        ssim,
        ownSsim: ssim.map((value) => value + floor),
      };
    }),
  );
  return {
    key: 'k',
    codec: 'h264',
    referenceLines: 1080,
    frameRate: { numerator: 25, denominator: 1 },
    windows: windows.map((second) => ({ startUs: second * 1e6, durationUs: 2_000_000 })),
    points,
    secondsPerMegapixel: 0.01,
  };
}

const even = { columnUs: 1_000_000, bits: Array.from({ length: 60 }, () => 500_000) };
const keep = { startUs: 0, finishUs: 60_000_000 };

describe('buildCurves', () => {
  it('foretells an even take by its mean: 1 MB a second at 1080 lines, rate factor 27', () => {
    const curves = buildCurves(
      buildSamples([3, 20, 41], () => 1e6),
      even,
      keep,
    );
    expect(curves.map((curve) => curve.lines)).toEqual([1080, 720, 360]);
    const top = curves[0]?.points.find((point) => point.crf === 27);
    expect(top?.videoBytes).toBeCloseTo(60e6, -3);
  });

  it('counts costly stretches that were sampled as what they are', () => {
    const uneven = {
      columnUs: 1_000_000,
      bits: Array.from({ length: 60 }, (_, second) => (second < 45 ? 100_000 : 900_000)),
    };
    // Bytes follow complexity exactly: a fourth of the take costs nine times as much.
    const samples = buildSamples([5, 25, 40, 50], (window) => (window === 3 ? 9e5 : 1e5));
    const top = buildCurves(samples, uneven, keep)[0]?.points.find((point) => point.crf === 27);
    const truth = 45 * 1e5 + 15 * 9e5;
    expect(Math.abs((top?.videoBytes ?? 0) / truth - 1)).toBeLessThan(0.06);
    const cut = buildCurves(samples, uneven, { startUs: 0, finishUs: 45_000_000 })[0]?.points.find(
      (point) => point.crf === 27,
    );
    expect(Math.abs((cut?.videoBytes ?? 0) / (45 * 1e5) - 1)).toBeLessThan(0.12);
  });
});

const curves = buildCurves(
  buildSamples([3, 20, 41], () => 1e6),
  even,
  keep,
);

describe('reading curves', () => {
  it('goes through its samples, more bytes are never less clear, and rate factors fall', () => {
    for (const curve of curves) {
      for (const point of curve.points) {
        expect(readCurve(curve, point.videoBytes).crf).toBeCloseTo(point.crf, 6);
        expect(readCurve(curve, point.videoBytes).ssim).toBeCloseTo(point.ssim, 6);
        expect(readCurveAtCrf(curve, point.crf)).toBeCloseTo(point.videoBytes, 0);
      }
      fc.assert(
        fc.property(
          fc.integer({ min: 100_000, max: 300_000_000 }),
          fc.integer({ min: 100_000, max: 300_000_000 }),
          (left, right) => {
            const [less, more] = [
              readCurve(curve, Math.min(left, right)),
              readCurve(curve, Math.max(left, right)),
            ];
            expect(more.ssim).toBeGreaterThanOrEqual(less.ssim - 1e-9);
            expect(more.crf).toBeLessThanOrEqual(less.crf + 1e-9);
          },
        ),
      );
    }
  });

  it('goes on beyond its finest sample in the direction of the last two, whatever the coarser ones do', () => {
    // From 34 to 27 hardly anything is added, from 27 to 20 the bytes grow fourfold: at 13 they are sixteen
    // times those at 27.
    const points = [
      [34, 1e6],
      [27, 1.05e6],
      [20, 4.2e6],
    ].map(([crf = 0, videoBytes = 0], index) => ({
      crf,
      videoBytes,
      ssim: 0.9 + index * 0.03,
      ownSsim: 0.9 + index * 0.03,
    }));
    expect(readCurveAtCrf({ lines: 720, rateDivisor: 1, points }, 13)).toBeCloseTo(16.8e6, -2);
    expect(readCurveAtCrf({ lines: 720, rateDivisor: 1, points }, 27)).toBeCloseTo(1.05e6, -2);
  });

  it('prefers fewer lines over mush, and more lines where the bytes carry them', () => {
    const linesAt = (bytes: number) => chooseCurve(curves, 'balanced', () => bytes)?.curve.lines ?? 0;
    expect(linesAt(60e6)).toBe(1080);
    expect(linesAt(2e6)).toBeLessThan(1080);
    const chosen = [1e6, 2e6, 4e6, 8e6, 16e6, 32e6, 64e6].map(linesAt);
    expect([...chosen].sort((left, right) => left - right)).toEqual(chosen);
  });

  it('keeps movement for sport and lets art trade it for sharpness', () => {
    const [top] = curves;
    if (!top) throw new TypeError('a curve was expected');
    const half: Curve = {
      ...top,
      rateDivisor: 2,
      points: top.points.map((point) => ({ ...point, ssim: point.ssim + 0.005 })),
    };
    const pick = (preference: 'balanced' | 'motion' | 'sharpness') =>
      chooseCurve([top, half], preference, () => 20e6)?.curve.rateDivisor;
    expect([pick('motion'), pick('balanced'), pick('sharpness')]).toEqual([1, 1, 2]);
    expect(['Physical education', 'Art and design', 'Music'].map(findPreference)).toEqual([
      'motion',
      'sharpness',
      'balanced',
    ]);
  });
});

describe('buildHull', () => {
  it('holds only what nothing beats, with falling gain', () => {
    const hull = buildHull(curves);
    const all = curves.flatMap((curve) => curve.points);
    for (const [index, { point }] of hull.entries()) {
      expect(all.some((other) => other.videoBytes < point.videoBytes && other.ssim > point.ssim)).toBe(false);
      const [before, after] = [hull[index - 1]?.point, hull[index + 1]?.point];
      if (!before || !after) continue;
      const gain = (from: typeof point, to: typeof point) =>
        (to.ssim - from.ssim) / Math.log(to.videoBytes / from.videoBytes);
      expect(gain(before, point)).toBeGreaterThanOrEqual(gain(point, after) - 1e-12);
    }
  });
});

describe('weighSpans', () => {
  const spans = [
    { first: 0, last: 50 },
    { first: 50, last: 100 },
  ];
  it('goes by time where nothing is known', () => expect(weighSpans(null, 0, spans, 25)).toEqual([2, 2]));
  it('goes by complexity, with a little for still stretches', () => {
    const weights = weighSpans({ columnUs: 1_000_000, bits: [0, 0, 300, 300] }, 0, spans, 25);
    // Mean 150: two seconds of 0.06, two seconds of 2.06.
    expect(weights[0]).toBeCloseTo(0.12, 9);
    expect(weights[1]).toBeCloseTo(4.12, 9);
  });
});

it('tells clarity in figures and words', () => {
  expect([0.97, 1, 0].map(convertSsimToClarity)).toEqual([97, 100, 0]);
  expect([0.99, 0.97, 0.94, 0.9, 0.5].map(describeClarity)).toEqual([
    'as clear as the recording',
    'clear',
    'slightly soft',
    'soft',
    'very soft',
  ]);
});
