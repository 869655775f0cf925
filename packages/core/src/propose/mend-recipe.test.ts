import { describe, expect, it } from 'vitest';
import { Limit } from '../limits/limit.ts';
import { EMPTY_SERIES } from '../series/take-series.ts';
import { createPlainRecipe, readKeptRange } from '../recipe/recipe.ts';
import { buildRecipe } from '../test-support/recipes.ts';
import { buildPhotoFacts, buildSeries, buildVideoFacts } from '../test-support/facts.ts';
import { cutAt, mendRecipe } from './propose.ts';

const series = buildSeries(buildVideoFacts());
const limit = (raw: Record<string, unknown>) => Limit.parse({ id: 'x', ...raw });

describe('mendRecipe', () => {
  const long = buildRecipe({ keep: { startUs: 4_000_000, finishUs: 50_000_000 } });

  it('leaves a part that is too long to the person', () =>
    expect(
      mendRecipe(long, buildVideoFacts(), series, [limit({ kind: 'length', maxUs: 30_010_000 })]),
    ).toEqual(long));

  it('a chosen place ends it there, on a frame, never longer than is allowed', () => {
    const cut = (finishUs: number) =>
      readKeptRange(cutAt(long, buildVideoFacts(), series, finishUs, 30_010_000));
    expect(cut(34_010_000)).toEqual({ startUs: 4_000_000, finishUs: 34_000_000 });
    expect(cut(20_013_000)).toEqual({ startUs: 4_000_000, finishUs: 20_000_000 });
  });

  it('sets one gain where the level lies outside, and leaves a level inside as the person set it', () => {
    const loud = [limit({ kind: 'loudness', min: -20, max: -14 })];
    // The take measures −23.8 LUFS with a peak of −9 dBTP: 6.8 dB bring it to the middle, −17 LUFS, and the
    // peak to −2.2.
    expect(mendRecipe(createPlainRecipe(), buildVideoFacts(), series, loud).sound.gainDb).toBeCloseTo(6.8, 2);
    expect(mendRecipe(buildRecipe({ soundGainDb: 5 }), buildVideoFacts(), series, loud).sound.gainDb).toBe(5);
  });

  it('changes nothing else, and nothing of a photograph', () => {
    const recipe = buildRecipe({
      turnDegrees: 90 as const,
      isMirrored: true,
      keep: { startUs: 0, finishUs: 10_000_000 },
    });
    expect(
      mendRecipe(recipe, buildVideoFacts(), series, [limit({ kind: 'length', maxUs: 30_000_000 })]),
    ).toEqual(recipe);
    expect(mendRecipe(recipe, buildPhotoFacts(), EMPTY_SERIES, [])).toBe(recipe);
  });
});
