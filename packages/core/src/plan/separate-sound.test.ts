import { describe, expect, it } from 'vitest';
import { placeSeparateEvidence } from '../proof/place-separate.ts';
import { createPlainRecipe, type RecipeSource } from '../recipe/recipe.ts';
import { COURSE_RATE_HZ } from '../series/evidence.ts';
import { buildSeries, buildVideoFacts } from '../test-support/facts.ts';
import { buildPlan } from './build-plan.ts';
import { applySeparateSound, findPictureTime, findSeparateTime } from './separate-sound.ts';

const source: RecipeSource = { takeId: 'wav', role: 'sound', offsetUs: 2_500_000, driftPpm: 100 };
const recipe = { ...createPlainRecipe(), sources: [...createPlainRecipe().sources, source] };
const facts = buildVideoFacts();
const series = buildSeries(facts);
const other = {
  takeId: 'wav',
  facts: {
    ...facts,
    sound: facts.sound && { ...facts.sound, loudnessLufs: -12, rateHz: 44_100, channels: 2 },
  },
  series,
};

describe('a separate recording', () => {
  it('is heard where it is laid, drawn out by its clock', () => {
    expect(findPictureTime(source, 10_000_000)).toBeCloseTo(12_501_000, 3);
    expect(findSeparateTime(source, 12_501_000)).toBeCloseTo(10_000_000, 3);
    const heard = applySeparateSound({ facts, series }, recipe, [other]);
    expect(heard.facts.sound).toMatchObject({ loudnessLufs: -12, rateHz: 44_100, startUs: 2_500_000 });
    expect(heard.facts.video).toEqual(facts.video);
  });

  it('that the recipe does not name, or that is another one, changes nothing', () => {
    expect(applySeparateSound({ facts, series }, createPlainRecipe(), [other]).facts).toBe(facts);
    expect(applySeparateSound({ facts, series }, recipe, [{ ...other, takeId: 'else' }]).facts).toBe(facts);
  });

  it('that is not there is refused in words, never dropped', () => {
    const input = { facts, recipe, series, limits: [], takeName: 'take.mov', nameContext: null };
    expect(buildPlan(input).refusals[0]?.message).toContain('separate recording of the sound is not there');
    const heard = applySeparateSound({ facts, series }, recipe, [other]);
    expect(buildPlan({ ...input, ...heard, otherTakeIds: ['wav'] }).plan).not.toBeNull();
  });

  it('leaves evidence in the picture’s own time', () => {
    const course = Int16Array.from({ length: 20 * COURSE_RATE_HZ }, (_, at) =>
      at === 10 * COURSE_RATE_HZ ? 9000 : 0,
    );
    const levels = Uint8Array.from({ length: 2000 }, (_, column) => (column === 1000 ? 12 : 255));
    const placed = placeSeparateEvidence(
      { startUs: 0, sides: 1, course, levelLeft: levels, levelRight: levels },
      { ...source, driftPpm: 500 },
    );
    expect(placed.startUs).toBe(2_500_000);
    // Ten seconds drawn out by 500 millionths: 5 ms, 40 samples.
    const at = placed.course.findIndex((value) => value > 4000);
    expect(Math.abs(at - (10 * COURSE_RATE_HZ + 40))).toBeLessThanOrEqual(1);
    expect(Math.abs(placed.levelLeft.indexOf(12) - 1000.5)).toBeLessThanOrEqual(1);
  });
});
