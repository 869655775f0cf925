import { describe, expect, it } from 'vitest';
import { openRecipe } from './migrate-recipe.ts';
import { createPlainRecipe, simplifyRecipe } from './recipe.ts';

const first = {
  version: 1,
  keep: { startUs: 1_000_000, finishUs: 3_000_000 },
  turnDegrees: 90,
  isMirrored: true,
  soundGainDb: -3,
  fit: { sizeBytes: 5_000_000, shortEdgePx: 720 },
};

describe('a recipe of the first form', () => {
  it('keeps everything that it said', () => {
    const { recipe } = openRecipe({ ...first, fit: null });
    expect(recipe).toEqual({
      version: 2,
      sources: [{ takeId: null, role: 'take', offsetUs: 0, driftPpm: 0 }],
      spans: [{ source: 0, startUs: 1_000_000, finishUs: 3_000_000 }],
      picture: { ...createPlainRecipe().picture, turnDegrees: 90, isMirrored: true },
      sound: { ...createPlainRecipe().sound, gainDb: -3 },
      card: null,
    });
  });

  it('without a kept part keeps all of it, and may come from before there was a choice in Fit', () => {
    const before: Record<string, unknown> = { ...first };
    delete before.fit;
    expect(openRecipe({ ...before, keep: null }).recipe.spans).toEqual([]);
    expect(openRecipe({ ...before, keep: null }).fit).toBeNull();
  });
});

describe('a recipe without what does nothing', () => {
  const before = {
    version: 2,
    sources: [{ takeId: null, role: 'take', offsetUs: 0 }],
    spans: [],
    picture: { turnDegrees: 0, isMirrored: false },
    sound: { gainDb: 0 },
    card: null,
  };
  it('is what it was before those operations were known, so that what it made is known again', () =>
    expect(simplifyRecipe(createPlainRecipe())).toEqual(before));

  it('keeps what does something', () => {
    const plain = createPlainRecipe();
    const own = {
      ...plain,
      picture: { ...plain.picture, straightenDegrees: 2 },
      sound: { ...plain.sound, humHz: 50 as const },
    };
    expect(simplifyRecipe(own)).toEqual({
      ...before,
      picture: { ...before.picture, straightenDegrees: 2 },
      sound: { gainDb: 0, humHz: 50 },
    });
  });
});

describe('a recipe that asks for something unknown', () => {
  it.each([
    ['a new operation', { ...createPlainRecipe(), stabilise: true }],
    [
      'a new operation on the picture',
      { ...createPlainRecipe(), picture: { turnDegrees: 0, isMirrored: false, warp: 1 } },
    ],
    ['a new operation in the first form', { ...first, fit: null, crop: 1 }],
    ['another version', { ...createPlainRecipe(), version: 3 }],
    [
      'a part of a source that is not there',
      { ...createPlainRecipe(), spans: [{ source: 4, startUs: 0, finishUs: 1 }] },
    ],
    ['nothing at all', null],
  ])('is refused, not half carried out: %s', (_name, raw) => expect(() => openRecipe(raw)).toThrow());

  it('from before there was color, cropping and mending of sound does none of that', () =>
    expect(
      openRecipe({
        ...createPlainRecipe(),
        picture: { turnDegrees: 0, isMirrored: false },
        sound: { gainDb: 0 },
      }).recipe,
    ).toEqual(createPlainRecipe()));

  it('in this form comes back as it is', () =>
    expect(openRecipe(createPlainRecipe())).toEqual({ recipe: createPlainRecipe(), fit: null }));
});
