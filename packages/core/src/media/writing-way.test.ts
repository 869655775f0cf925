import { describe, expect, it } from 'vitest';
import { mapToSource } from '../geometry/frame.ts';
import { chooseWritingWay, readUprightStance, WritingWay } from './writing-way.ts';

describe('which way writing runs', () => {
  it('is upright where it is recognised so, whatever the others say', () => {
    expect(chooseWritingWay({ upright: 92 })).toBe('upright');
    expect(chooseWritingWay({ upright: 71, mirrored: 90 })).toBe('upright');
  });

  it('is another way where that is recognised clearly best', () => {
    expect(chooseWritingWay({ upright: 40, mirrored: 95, 'upside-down': 37, flipped: 34 })).toBe('mirrored');
    expect(chooseWritingWay({ upright: 37, mirrored: 34, 'upside-down': 93, flipped: 40 })).toBe(
      'upside-down',
    );
  });

  it('is not told where nothing stands out', () => {
    expect(chooseWritingWay({ upright: 45, mirrored: 52, 'upside-down': 38, flipped: 41 })).toBeNull();
    expect(chooseWritingWay({ upright: 66, mirrored: 75, 'upside-down': 20, flipped: 20 })).toBeNull();
    expect(chooseWritingWay({})).toBeNull();
  });

  it('is put right by what undoes it', () => {
    // Where the first letter of a line, at the top left once it is right, lies in the photograph.
    const corners = { upright: [0, 0], mirrored: [1, 0], 'upside-down': [1, 1], flipped: [0, 1] } as const;
    for (const way of WritingWay.options) {
      const framing = { ...readUprightStance(way), straightenDegrees: 0, crop: null };
      const { e, f } = mapToSource({ widthPx: 40, heightPx: 30 }, framing);
      const [x, y] = corners[way];
      expect([e, f]).toEqual([40 * x, 30 * y]);
    }
  });
});
