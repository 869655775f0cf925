import { describe, expect, it } from 'vitest';
import { SpeedMeter } from './speed-meter.ts';

describe('SpeedMeter', () => {
  it('goes by the last seconds', () => {
    const meter = new SpeedMeter();
    expect(meter.add(0, 0, 1000)).toEqual({ bytesPerS: null, secondsLeft: null });
    // 10 a second for ten seconds, then 50.
    for (let at = 1; at <= 10; at += 1) meter.add(at, at * 10, 1000);
    expect(meter.add(11, 110, 1000)).toEqual({ bytesPerS: 10, secondsLeft: 89 });
    for (let at = 12; at <= 20; at += 1) meter.add(at, 110 + (at - 11) * 50, 1000);
    expect(meter.add(21, 610, 1000)).toEqual({ bytesPerS: 50, secondsLeft: 8 });
  });
  it('says nothing of something that stands still or goes back', () => {
    const meter = new SpeedMeter();
    meter.add(0, 500, 1000);
    expect(meter.add(3, 500, 1000).bytesPerS).toBeNull();
    expect(meter.add(4, 100, 1000).secondsLeft).toBeNull();
  });
});
