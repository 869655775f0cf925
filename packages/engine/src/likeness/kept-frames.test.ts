import { execa } from 'execa';
import { describe, expect, it } from 'vitest';
import { isKeptFrame, listKeptFrames, writeKeptFrames } from './kept-frames.ts';

describe('frames that stand for a piece', () => {
  it('are about one in so many, the first among them', () => {
    for (const every of [1, 2, 4, 5, 7, 12, 15, 30]) {
      const kept = listKeptFrames(every, 0, 3000);
      expect(kept[0]).toBe(0);
      expect(Math.abs(kept.length / (3000 / every) - 1)).toBeLessThan(0.06);
    }
  });

  it('never fall into step with the pattern of a coder: of every period up to 8 all places are met alike', () => {
    for (const every of [4, 5, 8, 12]) {
      for (let period = 2; period <= 8; period += 1) {
        const counts = Array.from(
          { length: period },
          (_, place) => listKeptFrames(every, 0, 1500).filter((frame) => frame % period === place).length,
        );
        expect(Math.max(...counts) / Math.min(...counts)).toBeLessThan(1.5);
      }
    }
  });

  it('leave no second out, at two a second and more', () => {
    for (const [rate, every] of [
      [25, 12],
      [30, 15],
      [30, 5],
      [60, 30],
      [24, 12],
      [10, 5],
    ] as const) {
      for (let second = 0; second < 200; second += 1)
        expect(listKeptFrames(every, second * rate, (second + 1) * rate).length).toBeGreaterThan(0);
    }
  });

  it('are the same ones for FFmpeg, from any frame on and for one frame in two', async () => {
    const chosen = async (expression: string) => {
      const { stdout } = await execa('ffmpeg', [
        '-v',
        'error',
        '-f',
        'lavfi',
        '-i',
        'color=s=16x16:r=25:d=8',
        '-vf',
        `select='${expression}'`,
        '-fps_mode',
        'passthrough',
        '-f',
        'framecrc',
        '-',
      ]);
      return stdout
        .split('\n')
        .filter((line) => !line.startsWith('#'))
        .map((line) => Number(line.split(',')[2]));
    };
    expect(await chosen(writeKeptFrames(5))).toEqual(listKeptFrames(5, 0, 200));
    expect((await chosen(writeKeptFrames(7, 90))).map((frame) => frame + 90)).toEqual(
      listKeptFrames(7, 90, 290),
    );
    expect((await chosen(writeKeptFrames(5, 0, 2))).map((frame) => frame * 2)).toEqual(
      listKeptFrames(5, 0, 400).filter((frame) => frame % 2 === 0),
    );
    expect(isKeptFrame(1, 1)).toBe(true);
  });
});
