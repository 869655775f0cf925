import { describe, expect, it } from 'vitest';
import { writeGraph } from '../graph/filter-graph.ts';
import { branchWitnesses, chooseWitnessStep, isWitness, writeWitnessFrames } from '../likeness/witnesses.ts';
import { buildCoderArgs, readTimescale } from './code-piece.ts';

const plan = (widthPx: number, heightPx: number, numerator: number, denominator = 1) => ({
  widthPx,
  heightPx,
  frameRate: { numerator, denominator },
  frameCount: 100,
});
const valueOf = (args: readonly string[], name: string) => args[args.indexOf(name) + 1];

describe('coder settings', () => {
  it('say level 4.1 where ITU-T H.264 table A-1 allows it, and leave it open beyond', () => {
    expect(buildCoderArgs(plan(1920, 1080, 30), 'only')).toContain('-level:v');
    // 1920×1080 has 8160 macroblocks: 60 a second are 489 600, over 245 760.
    expect(buildCoderArgs(plan(1920, 1080, 60), 'only')).not.toContain('-level:v');
    expect(buildCoderArgs(plan(1280, 720, 60), 'only')).toContain('-level:v');
    expect(buildCoderArgs(plan(2560, 1440, 15), 'only')).not.toContain('-level:v');
  });
  it('close a group after two seconds at the most', () => {
    expect(
      [plan(640, 360, 25), plan(640, 360, 30_000, 1001), plan(640, 360, 12, 1)].map((each) =>
        valueOf(buildCoderArgs(each, 'only'), '-g'),
      ),
    ).toEqual(['50', '59', '24']);
  });
  it('try less from 900 lines on, however it is turned', () => {
    const triesOf = (widthPx: number, heightPx: number) =>
      /subme=(\d+)/.exec(
        valueOf(buildCoderArgs(plan(widthPx, heightPx, 30), 'only'), '-x264-params') ?? '',
      )?.[1];
    expect([triesOf(1920, 1080), triesOf(1080, 1920), triesOf(1280, 720)]).toEqual(['1', '1', '7']);
  });
  it('choose what stands between others below 48 frames a second, and keep a fixed order above', () => {
    const choosesAt = (rate: number) =>
      valueOf(buildCoderArgs(plan(1920, 1080, rate), 'only'), '-x264-params')?.includes('b-adapt=1');
    expect([25, 30, 50, 60].map(choosesAt)).toEqual([true, true, false, false]);
  });
  it('do not hang on threads that race each other in two passes', () => {
    for (const pass of ['first', 'second'] as const) {
      const args = buildCoderArgs(plan(1920, 1080, 30), pass);
      expect(valueOf(args, '-x264-params')).toContain('sliced-threads=1');
      expect(args).not.toContain('-bufsize');
    }
  });
});

describe('readTimescale', () => {
  it('holds every frame exactly', () => {
    for (const [numerator, denominator] of [
      [25, 1],
      [30_000, 1001],
      [60, 2],
      [12_500, 1000],
      [24_000, 1001],
    ] as const) {
      const timescale = readTimescale(plan(2, 2, numerator, denominator));
      expect(Number.isInteger((timescale * denominator) / numerator)).toBe(true);
      expect(timescale).toBeGreaterThanOrEqual(10_000);
    }
  });
});

describe('frames kept for the proof', () => {
  it('are about four a second, two from a minute on, every one at the least', () => {
    expect([
      chooseWitnessStep(30, 20),
      chooseWitnessStep(30, 120),
      chooseWitnessStep(30, 600),
      chooseWitnessStep(5, 20),
    ]).toEqual([7, 15, 15, 1]);
  });
  it('are branched off whatever the picture has been through, by a count that goes on through the take', () => {
    const pattern = { every: 4, first: 50, surely: null };
    expect(writeGraph(branchWitnesses('cut', 'v', pattern))).toBe(
      "[cut]split=2[v][all];[all]select='lt(mod((n*1+50)*309,500),125.000000)'[kept]",
    );
  });
  it('are found again in the whole, in one expression where the count goes on', () => {
    const file = (first: number, last: number, from: number, surely: number | null = null) => ({
      path: '',
      first,
      last,
      pattern: { every: 5, first: from, surely },
    });
    const { files } = { files: [file(0, 40, 7), file(40, 100, 47), file(100, 103, 9, 2)] };
    expect(writeWitnessFrames({ files })).toBe(
      'between(n,0,99)*lt(mod((n*1+7)*309,500),100.000000)+between(n,100,102)*lt(mod((n*1+-91)*309,500),100.000000)+eq(n,102)',
    );
    // By hand: 7 · 309 mod 500 = 163, not kept; 8 · 309 mod 500 = 472; 10 · 309 mod 500 = 90.
    expect([0, 1, 3].map((frame) => files.some((each) => isWitness(each, frame)))).toEqual([
      false,
      false,
      true,
    ]);
    expect(isWitness(files[2]!, 102)).toBe(true);
  });
});
