import { describe, expect, it } from 'vitest';
import { estimateMp4Overhead, estimateUsefulBps } from './video-budget.ts';

describe('estimateMp4Overhead', () => {
  it('counts the tables of ISO/IEC 14496-12: 10 s at 25 a second with sound', () => {
    // stsz 4 and ctts 8 a frame: 3000; stss 4 for each of 6 keyframes: 24; stsz 4 for each of 469 packets of
    // sound: 1876; stco and stsc for about 20 chunks a track: 640; boxes themselves 1.5 to 3 kB.
    const counted = 3000 + 24 + 1876 + 640;
    const told = estimateMp4Overhead(250, 469, 10_000_000);
    expect(told).toBeGreaterThan(counted + 1500);
    expect(told).toBeLessThan(counted + 3500);
  });
  it('grows with every frame and packet', () => {
    expect(estimateMp4Overhead(251, 469, 10_000_000)).toBeGreaterThan(
      estimateMp4Overhead(250, 469, 10_000_000),
    );
    expect(estimateMp4Overhead(250, 470, 10_000_000)).toBeGreaterThan(
      estimateMp4Overhead(250, 469, 10_000_000),
    );
  });
});

describe('estimateUsefulBps', () => {
  const source = { frameRate: 25, sourceBps: 8_000_000, sourceGain: 1, sourcePixels: 1920 * 1080 };
  it('falls with the points, but more slowly than they do', () => {
    const [all, quarter] = [
      estimateUsefulBps(source, { widthPx: 1920, heightPx: 1080 }),
      estimateUsefulBps(source, { widthPx: 960, heightPx: 540 }),
    ];
    expect(quarter).toBeLessThan(all);
    expect(quarter).toBeGreaterThan(all / 4);
  });
  it('is never more than eight bits in 4:2:0 could hold', () => {
    expect(estimateUsefulBps({ ...source, sourceBps: 5e9 }, { widthPx: 1920, heightPx: 1080 })).toBeLessThan(
      1920 * 1080 * 25 * 12,
    );
  });
});
