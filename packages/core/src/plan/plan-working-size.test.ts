import { describe, expect, it } from 'vitest';
import { Limit } from '../limits/limit.ts';
import { createPlainRecipe } from '../recipe/recipe.ts';
import { buildRecipe } from '../test-support/recipes.ts';
import { buildVideoFacts } from '../test-support/facts.ts';
import { planWorkingSize } from './plan-working-size.ts';

const limits = (...raw: Record<string, unknown>[]) =>
  raw.map((each, index) => Limit.parse({ id: `l${index}`, ...each }));
const mirrored = buildRecipe({ isMirrored: true });
const known = (changes: Parameters<typeof buildVideoFacts>[0] = {}) => {
  const { video } = buildVideoFacts(changes);
  if (!video) throw new TypeError('A picture was expected.');
  return video;
};

const costly = { codec: 'hevc', hdr: 'hlg', bitDepth: 10, pixelFormat: 'yuv420p10le' } as const;

describe('planWorkingSize', () => {
  it('is the size of the result where that is smaller', () => {
    expect(
      planWorkingSize(known(costly), mirrored, limits({ kind: 'picture-edge', edge: 'lines', max: 480 })),
    ).toEqual({ widthPx: 854, heightPx: 480 });
  });

  it('lies as the take does: before turning', () => {
    const turned = buildRecipe({ isMirrored: true, turnDegrees: 90 });
    expect(
      planWorkingSize(known(costly), turned, limits({ kind: 'picture-edge', edge: 'lines', max: 480 })),
    ).toEqual({ widthPx: 854, heightPx: 480 });
  });

  it('is not wanted where decoding takes less than writing a copy', () => {
    for (const max of [480, 1000])
      expect(
        planWorkingSize(known(), mirrored, limits({ kind: 'picture-edge', edge: 'lines', max })),
      ).toBeNull();
    expect(planWorkingSize(known(), createPlainRecipe(), [])).toBeNull();
  });

  it('is wanted for takes that are costly to decode, at full size too', () => {
    expect(planWorkingSize(known(costly), mirrored, [])).toEqual({ widthPx: 1920, heightPx: 1080 });
  });
});
