import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { PieceRecorder, PieceRecorderOptions } from './piece-recorder.ts';
import { Standby } from './standby.ts';

interface Fake {
  readonly options: PieceRecorderOptions;
  isStopped: boolean;
}
let made: Fake[] = [];
const create = (options: PieceRecorderOptions) => {
  const fake: Fake = { options, isStopped: false };
  made.push(fake);
  return {
    startedAt: Date.now(),
    stop: () => {
      fake.isStopped = true;
      return Promise.resolve();
    },
  } as unknown as PieceRecorder;
};
const options = {
  stream: null as never,
  mimeType: 'video/webm',
  quality: { lines: 720, frameRate: 30, videoBps: 1, soundBps: 1 },
  onFault: () => undefined,
};
const give = (index: number, words: string) => made[index]?.options.onPiece(new Blob([words]));

beforeEach(() => {
  made = [];
  vi.useFakeTimers();
});
afterEach(() => vi.useRealTimers());

describe('a recording on standby', () => {
  it('has at least five seconds from before, and goes on from there', () => {
    const standby = new Standby(options, create);
    for (let second = 1; second <= 12; second += 1) {
      vi.advanceTimersByTime(1000);
      made.forEach((_, index) => give(index, `${index}`));
    }
    // Begun at 0, 5 and 10 s: the first has made way, the second is seven seconds old.
    expect(made.map((each) => each.isStopped)).toEqual([true, false, false]);
    const got: Blob[] = [];
    const recorder = standby.handOver((piece) => got.push(piece));
    expect(Date.now() - recorder.startedAt).toBe(7000);
    const before = got.length;
    expect(before).toBeGreaterThanOrEqual(6);
    give(1, 'later');
    expect(got).toHaveLength(before + 1);
    expect(made.map((each) => each.isStopped)).toEqual([true, false, true]);
    vi.advanceTimersByTime(20_000);
    expect(made).toHaveLength(3);
  });
  it('that nothing came of leaves nothing running', () => {
    const standby = new Standby(options, create);
    vi.advanceTimersByTime(6000);
    standby.end();
    expect(made.every((each) => each.isStopped)).toBe(true);
  });
});
