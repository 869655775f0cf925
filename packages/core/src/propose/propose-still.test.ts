import { describe, expect, it } from 'vitest';
import { buildAdaptation } from '../color/white.ts';
import { multiply } from '../color/spaces.ts';
import { proposePaper } from '../color/propose-paper.ts';
import { buildPhotoFacts, SEEN_PIECE } from '../test-support/facts.ts';
import type { PhotoFacts } from '../media/facts.ts';
import { createPlainColor } from '../color/color-settings.ts';
import { createPlainRecipe } from '../recipe/recipe.ts';
import { buildLampScene, drawLampScene } from '../test-support/lamp-scene.ts';
import { proposeBySheet, proposeStill } from './propose-still.ts';

const { corners } = SEEN_PIECE;
const side = [1, -0.3, 0, 0, 0, 0];
const lit = {
  even: { corners, power: 1, sides: [side, side, side], floor: [0, 0, 0] },
  by: 'margin',
  before: 0.4,
  after: 0.01,
  paper: [0.8, 0.5, 0.2],
} as PhotoFacts['light'];
const photo = (changes: Partial<PhotoFacts>, piece: object = {}): PhotoFacts => ({
  ...(buildPhotoFacts().photo as PhotoFacts),
  piece: { ...SEEN_PIECE, ...piece },
  light: lit,
  ...changes,
});
const nothing = { flatten: null, light: null, color: null };

describe('proposeStill', () => {
  it('brings a sure piece flat, evens its light and makes its paper white', () => {
    const { picture, remarks } = proposeStill(photo({}));
    expect(picture.flatten).toEqual({ corners, aspect: 0.7 });
    expect(picture.light).toEqual(lit?.even);
    expect(picture.color?.white?.kelvin).toBeLessThan(4000);
    expect(remarks).toHaveLength(2);
  });

  it.each([
    ['unsure corners', { confidence: 0.5 }],
    ['a piece that goes on beyond the picture', { isCutOff: true }],
    ['somebody beside it', { isBesideSomebody: true }],
  ])('keeps the whole picture where there are %s, and says why', (_, piece) => {
    const { picture, remarks } = proposeStill(photo({}, piece));
    expect(picture).toEqual(nothing);
    expect(remarks.join()).toMatch(/whole picture is kept/);
  });

  it('leaves alone what was made on a screen, and where there is nothing to see', () => {
    expect(proposeStill(photo({ isFromScreen: true })).picture).toEqual(nothing);
    expect(proposeStill(photo({ piece: null, light: null })).picture).toEqual(nothing);
  });
});

describe('proposeBySheet', () => {
  const scene = buildLampScene(55, { widthPx: 240, heightPx: 180, piece: () => [0.88, 0.88, 0.88] as const });
  const sheet = drawLampScene(scene);
  const own = photo({ widthPx: 240, heightPx: 180 });
  const { picture } = proposeStill(own);
  const plain = createPlainRecipe();
  const recipe = { ...plain, picture: { ...plain.picture, ...picture } };

  it('takes light and white from the sheet in place of the margin', () => {
    const { recipe: made, seen } = proposeBySheet(recipe, own, sheet);
    expect(seen.by).toBe('sheet');
    expect(made.picture.light).toEqual(seen.even);
    expect(made.picture.color).toEqual(proposePaper(seen.paper ?? [0, 0, 0])?.settings);
    expect(made.picture.color).not.toEqual(picture.color);
  });

  it('leaves the colors that a person chose', () => {
    const color = { ...createPlainColor(), richness: 0.3 };
    const chosen = { ...recipe, picture: { ...recipe.picture, color } };
    expect(proposeBySheet(chosen, own, sheet).recipe.picture.color).toEqual(color);
  });
});

describe('proposePaper', () => {
  it('makes paper neutral and of 88 % light', () => {
    const paper = [0.62, 0.4, 0.16] as const;
    const advice = proposePaper(paper);
    const { white, exposure } = advice?.settings ?? { white: null, exposure: 0 };
    const made = multiply(buildAdaptation(white ?? { kelvin: 6500, tint: 0 }), paper).map(
      (value) => value * 2 ** exposure,
    );
    for (const value of made) expect(value).toBeCloseTo(0.88, 1);
    expect(Math.max(...made) - Math.min(...made)).toBeLessThan(0.01);
  });

  it('has nothing to do with paper that is white', () => expect(proposePaper([0.88, 0.88, 0.87])).toBeNull());
});
