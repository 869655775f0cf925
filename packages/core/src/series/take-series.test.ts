import { describe, expect, it } from 'vitest';
import { readSeries, writeSeries } from './series-blob.ts';
import { SOUND_BLOCK_US } from './sound-blocks.ts';
import { EMPTY_SERIES, readTakeSeries, writeTakeSeries, type TakeSeries } from './take-series.ts';

const series: TakeSeries = {
  frames: { timesUs: [0, 40_000, 80_001, 133_367], endUs: 173_367 },
  keyframesUs: [0, 80_001],
  peaks: { columnsPerSecond: 100, peaks: [0, 0.5, 1] },
  complexity: { columnUs: 500_000, bits: [1200, 0.25] },
  blocks: {
    blockUs: SOUND_BLOCK_US,
    startUs: -5000,
    sides: 2,
    powerLeft: Float32Array.from([0.25, 0.5]),
    powerRight: Float32Array.from([0, 1]),
    powerMix: Float32Array.from([0.125, 0.75]),
    peak: Float32Array.from([1, 0.5]),
    clipped: Uint16Array.from([3, 0]),
  },
  sharpness: { frameIndices: [1, 3], blur: [0.25, null] },
  movement: { stepUs: 100_000, change: [0, 1.5] },
  suggestions: [
    {
      subject: 'music',
      startUs: 20_000,
      finishUs: 130_000,
      startReason: 'first note',
      finishReason: 'end of the take',
      confidence: 0.75,
      weightS: 0.1,
    },
  ],
};

describe('a series', () => {
  it('comes back as it was written', () => expect(readTakeSeries(writeTakeSeries(series))).toEqual(series));

  it('comes back from the middle of a buffer that others share, at any address', () => {
    const written = writeTakeSeries(series);
    for (const at of [1, 3, 8, 13]) {
      const shared = Buffer.alloc(written.length + 64, 0xab);
      shared.set(written, at);
      expect(readTakeSeries(shared.subarray(at, at + written.length))).toEqual(series);
    }
  });

  it('of nothing is empty, not broken', () =>
    expect(readTakeSeries(writeTakeSeries(EMPTY_SERIES))).toEqual(EMPTY_SERIES));

  it('that is cut off, foreign, or of another format is refused', () => {
    const written = writeTakeSeries(series);
    for (const length of [0, 7, 11, 40, written.length - 8])
      expect(() => readTakeSeries(written.subarray(0, length)), String(length)).toThrow(RangeError);
    expect(() => readTakeSeries(new Uint8Array(400))).toThrow(RangeError);
    expect(() => readTakeSeries(writeSeries({ format: 'other 1', facts: {}, columns: {} }))).toThrow(
      'other 1',
    );
  });

  it('holds its columns little endian on multiples of eight, as docs/formats.md says', () => {
    const bytes = writeSeries({
      format: 'x',
      facts: {},
      columns: { a: Uint8Array.of(7), b: Uint16Array.of(258) },
    });
    expect(new TextDecoder().decode(bytes.subarray(0, 8))).toBe('APXSER01');
    const headerLength = new DataView(bytes.buffer).getUint32(8, true);
    const body = Math.ceil((12 + headerLength) / 8) * 8;
    expect([bytes[body], bytes[body + 8], bytes[body + 9]]).toEqual([7, 2, 1]);
    expect(readSeries(bytes, 'x').columns.b).toEqual(Uint16Array.of(258));
  });
});
