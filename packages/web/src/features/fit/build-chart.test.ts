import { createPlainRecipe, type Curve, type VideoPlan } from '@apodix/core';
import { describe, expect, it } from 'vitest';
import { buildChart, placeLabel, spreadLabels, type ChartInput } from './build-chart.ts';
import { divideBytes } from './divide-bytes.ts';
import { describeSeconds, estimateMakeSeconds, estimateSendSeconds } from './estimate-times.ts';

const plan: VideoPlan = {
  kind: 'video',
  fileName: 'a.mp4',
  container: 'mp4',
  method: 'code',
  cut: {
    recipe: createPlainRecipe(),
    widthPx: 1280,
    heightPx: 720,
    frameRate: { numerator: 25, denominator: 1 },
    frameCount: 1500,
    durationUs: 60_000_000,
    toneMapFrom: null,
    isDeinterlaced: false,
  },
  rate: {
    maxBytes: 20_000_000,
    videoCodec: 'h264',
    videoBps: 2_400_000,
    usefulBps: 9_000_000,
    leastCrf: 14,
    model: { crf: 25, slope: 6, sampledShare: 0.1 },
  },
  prediction: { bytes: 19_700_000, ssim: 0.95, ownSsim: 0.96 },
  sound: { codec: 'aac', bitrateBps: 192_000, channels: 2, rateHz: 48_000, gainDb: 0, isCopied: false },
};
const curve = (lines: number, top: number): Curve => ({
  lines,
  rateDivisor: 1,
  points: [
    { crf: 34, videoBytes: 4e6, ssim: top - 0.06, ownSsim: top },
    { crf: 27, videoBytes: 12e6, ssim: top - 0.02, ownSsim: top },
    { crf: 20, videoBytes: 36e6, ssim: top, ownSsim: top },
  ],
});
const colors = {
  ink: '#000',
  soft: '#555',
  line: '#ddd',
  madder: '#a00',
  madderSoft: '#fdd',
  sheet: '#fff',
  curves: ['#0a0', '#00a'],
  mono: 'mono',
  sans: 'sans',
};
const input: ChartInput = {
  curves: [curve(1080, 0.98), curve(720, 0.96)],
  plan,
  limitBytes: 20_000_000,
  made: [{ sizeBytes: 19_600_000, ssim: 0.951, isCurrent: true }],
  colors,
  isNarrow: false,
  widthPx: 600,
  heightPx: 350,
};

describe('buildChart', () => {
  const chart = buildChart(input);

  it('draws a curve for each number of lines, the made and the chosen point', () => {
    expect(chart.data.map((trace) => trace.name)).toEqual(['1080 lines', '720 lines', 'made', 'chosen']);
    expect(chart.data[3]).toMatchObject({ x: [19.7], y: [95] });
    expect(chart.data[2]).toMatchObject({ x: [19.6], y: [95.1] });
    for (const trace of chart.data.slice(0, 2))
      for (const [index, y] of trace.y.entries())
        if (index > 0) expect(y).toBeGreaterThanOrEqual((trace.y[index - 1] ?? 0) - 1e-9);
  });

  it('counts sound and tables into every point: the curve begins where its coarsest sample and they end', () => {
    // 19.7 MB less 2.4 Mbit/s for 60 s leaves 1.7 MB.
    expect(chart.data[0]?.x[0]).toBeCloseTo(4 + 1.7, 6);
  });

  it('lets points be chosen up to the limit and none beyond', () => {
    for (const [trace, choices] of chart.choices.slice(0, 2).entries()) {
      for (const [index, choice] of choices.entries()) {
        expect(choice === null).toBe((chart.data[trace]?.x[index] ?? 0) > 20);
        if (choice) expect(choice.lines).toBe(trace === 0 ? 1080 : 720);
      }
    }
    expect(chart.layout.shapes).toMatchObject([
      { type: 'rect', x0: 20 },
      { type: 'line', x0: 20, x1: 20 },
    ]);
  });

  it('says in words what it shows', () => {
    expect(chart.sentence).toBe(
      'Clarity against file size for 1080 lines, 720 lines. Planned: 720 lines, 19.7 MB, clarity about 95.0 of 100; the limit is 20 MB.',
    );
  });
});

it('gives the same lines at half the frames the same color, dotted', () => {
  const [whole, half] = buildChart({
    ...input,
    curves: [curve(1080, 0.98), { ...curve(1080, 0.97), rateDivisor: 2 }],
    made: [],
  }).data;
  expect([whole?.name, half?.name]).toEqual(['1080 lines', '1080 halved']);
  expect([whole?.line, half?.line]).toEqual([
    { color: '#0a0', width: 3, dash: 'solid' },
    { color: '#0a0', width: 3, dash: 'dot' },
  ]);
});

it('moves labels apart that would lie on each other', () => {
  expect(spreadLabels([{ y: 50 }, { y: 51 }, { y: 90 }], 5).map((label) => label.labelY)).toEqual([
    90, 51, 46,
  ]);
});

describe('where the bytes go', () => {
  it('adds up to the file: 60 s at 192 kbit/s are 1.44 MB of sound', () => {
    const parts = divideBytes(plan, 19_600_000);
    expect(parts.map((part) => part.label)).toEqual(['picture', 'sound', 'wrapping']);
    expect(parts[1]?.bytes).toBe(1_440_000);
    expect(parts.reduce((sum, part) => sum + part.bytes, 0)).toBeCloseTo(19_600_000, 3);
    expect(parts[2]?.bytes).toBeCloseTo(19_700_000 - 18_000_000 - 1_440_000, 3);
  });
});

describe('times', () => {
  it('sends 20 MB in 17.6 s over 10 Mbit/s', () =>
    expect(estimateSendSeconds(20_000_000, 10)).toBeCloseTo(17.6, 6));
  it('knows nothing of making without samples, and that taking over is quick', () => {
    expect(estimateMakeSeconds(plan, null)).toBeNull();
    expect(estimateMakeSeconds({ ...plan, method: 'cut' }, null)).toBeLessThan(5);
  });
  it('is said in round figures', () =>
    expect([3.4, 47, 300, 7200].map(describeSeconds)).toEqual([
      'about 3 s',
      'about 45 s',
      'about 5 min',
      'about 2 h',
    ]));
});

describe('a label of the chart', () => {
  // 500 points for 10 MB beside margins of 70: 9 signs take 72 points and 6 beside them, 1.56 MB.
  const chart = { limit: 8, right: 10, widthPx: 570 };
  it('stands right of its place where it ends before the limit, or begins after it', () => {
    expect(placeLabel('540 lines', { ...chart, x: 6.4 })).toBe('left');
    expect(placeLabel('540 lines', { ...chart, x: 8.2 })).toBe('left');
    expect(placeLabel('540 lines', { ...chart, limit: null, x: 7 })).toBe('left');
  });
  it('stands left of it where it would cross the limit or leave the chart', () => {
    expect(placeLabel('540 lines', { ...chart, x: 6.5 })).toBe('right');
    expect(placeLabel('limit 8 MB', { ...chart, limit: null, x: 8.5 })).toBe('right');
  });
});
