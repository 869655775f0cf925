import { describe, expect, it } from 'vitest';
import { readLoudness } from './measure-decode.ts';

/** The summary that FFmpeg's ebur128 writes at its end. */
const summary = (loudness: string, range: string, peak: string) =>
  `[Parsed_ebur128_0 @ 0x5] Summary:\n\n  Integrated loudness:\n    I:         ${loudness} LUFS\n    Threshold: -33.6 LUFS\n\n  Loudness range:\n    LRA:         ${range} LU\n    Threshold: -43.5 LUFS\n    LRA low:   -25.9 LUFS\n    LRA high:  -20.0 LUFS\n\n  True peak:\n    Peak:       ${peak} dBFS\n`;

describe('readLoudness', () => {
  it('takes loudness, range and true peak', () =>
    expect(readLoudness(summary('-23.4', '5.9', '-8.2'))).toEqual({
      loudnessLufs: -23.4,
      loudnessRangeLu: 5.9,
      truePeakDbtp: -8.2,
    }));
  it('takes the last summary where there are several', () =>
    expect(readLoudness(summary('-40.0', '1.0', '-30.0') + summary('-14.0', '3.0', '0.4'))).toEqual({
      loudnessLufs: -14,
      loudnessRangeLu: 3,
      truePeakDbtp: 0.4,
    }));
  it('silence has no loudness and no peak', () =>
    expect(readLoudness(summary('-70.0', '0.0', '-inf'))).toEqual({
      loudnessLufs: null,
      loudnessRangeLu: null,
      truePeakDbtp: null,
    }));
  it('says nothing where nothing was measured', () =>
    expect(readLoudness('frame= 250 fps=0')).toEqual({
      loudnessLufs: null,
      loudnessRangeLu: null,
      truePeakDbtp: null,
    }));
});
