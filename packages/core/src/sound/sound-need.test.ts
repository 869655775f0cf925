import { describe, expect, it } from 'vitest';
import { Limit } from '../limits/limit.ts';
import { buildVideoFacts } from '../test-support/facts.ts';
import { planVideoSound } from '../plan/plan-sound.ts';
import { readCeilings } from '../limits/steer.ts';
import { findSoundNeed, measureLowShare } from './sound-need.ts';

const at50 = (peaks: number[]) => ({ columnsPerSecond: 50, peaks });
/** Four syllables a second, each followed by a gap of nearly the same length. */
const spoken = at50(Array.from({ length: 500 }, (_, column) => (column % 12 < 7 ? 0.4 : 0.02)));
const held = at50(Array.from({ length: 500 }, (_, column) => 0.3 + 0.05 * Math.sin(column / 7)));

describe('findSoundNeed', () => {
  it('hears speech where it comes and goes and the subject is spoken', () => {
    expect(measureLowShare(spoken)).toBeCloseTo(5 / 12, 1);
    expect(measureLowShare(held)).toBe(0);
    expect([
      findSoundNeed('Drama', spoken),
      findSoundNeed('Drama', held),
      findSoundNeed('Music', spoken),
      findSoundNeed('English', null),
      findSoundNeed('', null),
    ]).toEqual(['speech', 'music', 'music', 'speech', 'music']);
    expect(measureLowShare(at50(Array.from({ length: 200 }, () => 0)))).toBeNull();
  });

  it('gives music 160 kbit/s at least where it takes no more than a third of the file, and speech less', () => {
    const rateOf = (maxBytes: number | null, need: 'music' | 'speech') =>
      planVideoSound(
        buildVideoFacts(),
        readCeilings(
          maxBytes === null ? [] : [Limit.parse({ id: 's', kind: 'file-size', maxBytes })],
          'video',
        ),
        { durationUs: 60_000_000, codec: 'aac', gainDb: 0, need },
      )?.bitrateBps;
    // 60 s: 160 kbit/s are 1.2 MB, a third of 3.6 MB; 192 kbit/s are a fifth of 7.2 MB.
    expect([
      rateOf(null, 'music'),
      rateOf(7_200_000, 'music'),
      rateOf(3_700_000, 'music'),
      rateOf(3_000_000, 'music'),
    ]).toEqual([192_000, 192_000, 160_000, 64_000]);
    expect([rateOf(null, 'speech'), rateOf(3_700_000, 'speech'), rateOf(2_000_000, 'speech')]).toEqual([
      96_000, 96_000, 48_000,
    ]);
  });
});
