import { createPlainRecipe, type Recipe } from '@apodix/core';
import { describe, expect, it } from 'vitest';
import { addPartOf, keepSpans, listJoinedIds } from './joined-parts.ts';

const plain = createPlainRecipe();
const own = { startUs: 0, finishUs: 8_000_000 };
const part = { startUs: 1_000_000, finishUs: 3_000_000 };
const sound = { takeId: 'wav', role: 'sound' as const, offsetUs: 5, driftPpm: 0 };

describe('parts of other takes', () => {
  it('come last, name their take once, and keep all of the own one where nothing was cut', () => {
    const once = addPartOf(plain, 'b', part, own);
    expect(once.spans).toEqual([
      { source: 0, ...own },
      { source: 1, ...part },
    ]);
    const twice = addPartOf(once, 'b', own, own);
    expect(twice.spans.map((span) => span.source)).toEqual([0, 1, 1]);
    expect(listJoinedIds(twice)).toEqual(['b']);
  });

  it('leave a separate recording of the sound behind all takes', () => {
    const heard: Recipe = { ...plain, sources: [...plain.sources, sound] };
    expect(addPartOf(heard, 'b', part, own).sources.map((source) => source.takeId)).toEqual([
      null,
      'b',
      'wav',
    ]);
  });

  it('take their take out of the recipe with the last of them, and the others keep theirs', () => {
    const three = addPartOf(addPartOf(plain, 'b', part, own), 'c', part, own);
    const without = keepSpans(
      three,
      three.spans.filter((span) => span.source !== 1),
    );
    expect(listJoinedIds(without)).toEqual(['c']);
    expect(without.spans.map((span) => span.source)).toEqual([0, 1]);
  });
});
