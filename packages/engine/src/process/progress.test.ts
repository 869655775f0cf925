import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { ProgressMeter, readFfmpegProgress, type Progress } from './progress.ts';

beforeEach(() => vi.useFakeTimers({ toFake: ['performance'] }));
afterEach(() => vi.useRealTimers());

describe('ProgressMeter', () => {
  it('maps stages onto one share and never tells less than before', () => {
    const told: Progress[] = [];
    const meter = new ProgressMeter((progress) => told.push(progress));
    meter.begin('First', 0, 0.25);
    meter.tell(0.5);
    meter.begin('Second', 0.25, 1);
    meter.tell(1 / 3);
    meter.tell(1);
    expect(told.map(({ stage, share }) => [stage, share])).toEqual([
      ['First', 0],
      ['First', 0.125],
      ['Second', 0.25],
      ['Second', 0.5],
      ['Second', 1],
    ]);
  });

  it('tells the time left by the pace so far: 30 s for three tenths leave 70 s', () => {
    const told: Progress[] = [];
    const meter = new ProgressMeter((progress) => told.push(progress));
    meter.begin('Making', 0, 1);
    vi.advanceTimersByTime(30_000);
    meter.tell(0.3);
    expect(told.at(-1)?.secondsLeft).toBe(70);
    vi.advanceTimersByTime(70_000);
    meter.tell(1);
    expect(told.at(-1)?.secondsLeft).toBe(0);
  });

  it('goes by what is done since it began, not by what was there: a quarter in 20 s leaves 20 s for another', () => {
    const told: Progress[] = [];
    const meter = new ProgressMeter((progress) => told.push(progress));
    meter.begin('Making', 0, 1);
    meter.tell(0.5);
    vi.advanceTimersByTime(20_000);
    meter.tell(0.75);
    expect(told.at(-1)?.secondsLeft).toBe(20);
  });

  it('leaves out of the pace what went into something beside: 20 of 30 s for a quarter leave 60 s, and 10 of that', () => {
    const told: Progress[] = [];
    const meter = new ProgressMeter((progress) => told.push(progress));
    meter.begin('Making', 0, 1);
    vi.advanceTimersByTime(30_000);
    meter.countBeside(10, 10);
    meter.tell(0.25);
    expect(told.at(-1)?.secondsLeft).toBe(70);
    vi.advanceTimersByTime(30_000);
    meter.countBeside(20, 0);
    meter.tell(0.5);
    expect(told.at(-1)?.secondsLeft).toBe(40);
    vi.advanceTimersByTime(20_000);
    meter.tell(0.75);
    expect(told.at(-1)?.secondsLeft).toBe(20);
  });

  it('says nothing of the end before there is anything to go by, and does not chatter', () => {
    const told: Progress[] = [];
    const meter = new ProgressMeter((progress) => told.push(progress));
    meter.begin('Making', 0, 1);
    for (let share = 0; share < 0.02; share += 0.0001) meter.tell(share);
    expect(told.length).toBeLessThan(6);
    expect(told.every(({ secondsLeft }) => secondsLeft === null)).toBe(true);
  });
});

it('reads the share out of progress lines', () => {
  const shares: number[] = [];
  const read = readFfmpegProgress(4_000_000, (share) => shares.push(share));
  for (const line of [
    'frame=25',
    'out_time_us=1000000',
    'out_time=00:00:01.000000',
    'out_time_us=N/A',
    'out_time_us=5000000',
    'progress=end',
  ])
    read(line);
  expect(shares).toEqual([0.25, 1]);
});
