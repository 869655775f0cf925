import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { addQuarterTurn, fitSizeInside, turnSize, type TurnDegrees } from './turn.ts';

describe('turning', () => {
  it('exchanges the edges at 90 and 270 only', () => {
    expect(
      ([0, 90, 180, 270] as const).map((turn) => turnSize({ widthPx: 4, heightPx: 3 }, turn).widthPx),
    ).toEqual([4, 3, 4, 3]);
  });
  it('four quarter turns are none, either way', () => {
    const around = (step: 1 | -1) =>
      [0, 0, 0, 0].reduce<TurnDegrees>((turn) => addQuarterTurn(turn, step), 0);
    expect([around(1), around(-1), addQuarterTurn(0, -1)]).toEqual([0, 0, 270]);
  });
});

describe('fitSizeInside', () => {
  it('knows the common cases', () => {
    expect(fitSizeInside({ widthPx: 3840, heightPx: 2160 }, { shortEdgePx: 720 }, 2)).toEqual({
      widthPx: 1280,
      heightPx: 720,
    });
    expect(fitSizeInside({ widthPx: 1080, heightPx: 1920 }, { shortEdgePx: 720 }, 2)).toEqual({
      widthPx: 720,
      heightPx: 1280,
    });
    expect(fitSizeInside({ widthPx: 4032, heightPx: 3024 }, { longEdgePx: 3000 })).toEqual({
      widthPx: 3000,
      heightPx: 2250,
    });
    expect(fitSizeInside({ widthPx: 641, heightPx: 361 }, {}, 2)).toEqual({ widthPx: 640, heightPx: 360 });
  });

  it('never enlarges, never exceeds a ceiling, keeps even edges and proportions', () => {
    const edge = fc.integer({ min: 16, max: 6000 });
    fc.assert(
      fc.property(
        edge,
        edge,
        fc.record({ longEdgePx: edge, shortEdgePx: edge }, { requiredKeys: [] }),
        (widthPx, heightPx, ceilings) => {
          const fitted = fitSizeInside({ widthPx, heightPx }, ceilings, 2);
          expect(fitted.widthPx <= widthPx && fitted.heightPx <= heightPx).toBe(true);
          expect(fitted.widthPx % 2 === 0 && fitted.heightPx % 2 === 0).toBe(true);
          expect(Math.max(fitted.widthPx, fitted.heightPx)).toBeLessThanOrEqual(
            ceilings.longEdgePx ?? Infinity,
          );
          expect(Math.min(fitted.widthPx, fitted.heightPx)).toBeLessThanOrEqual(
            Math.max(2, ceilings.shortEdgePx ?? Infinity),
          );
        },
      ),
    );
  });
});
