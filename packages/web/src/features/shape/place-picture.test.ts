import { createPlainRecipe } from '@apodix/core';
import { expect, it } from 'vitest';
import { placePicture } from './place-picture.ts';

const photo = { widthPx: 4000, heightPx: 3000 };
const corners = [
  { x: 0.2, y: 0.1 },
  { x: 0.75, y: 0.15 },
  { x: 0.8, y: 0.9 },
  { x: 0.15, y: 0.85 },
] as const;

/** Where CSS would show a point of an element, by its own words for a matrix (css-transforms-2). */
function show(transform: string, x: number, y: number): { x: number; y: number } {
  const m = transform.replace('matrix3d(', '').replace(')', '').split(',').map(Number);
  const cell = (at: number) => m[at] ?? NaN;
  const w = cell(3) * x + cell(7) * y + cell(15);
  return {
    x: (cell(0) * x + cell(4) * y + cell(12)) / w,
    y: (cell(1) * x + cell(5) * y + cell(13)) / w,
  };
}

it('a flattened piece fills its window: its corners lie in the corners', () => {
  const { picture } = createPlainRecipe();
  const wish = { ...picture, flatten: { corners: [...corners] as never, aspect: 0.75 } };
  const { windowPx, elementPx, transform } = placePicture(photo, { widthPx: 600, heightPx: 600 }, wish);
  expect(windowPx.heightPx).toBeCloseTo(600, 6);
  expect(windowPx.widthPx).toBeCloseTo(450, 6);
  const wanted = [
    [0, 0],
    [450, 0],
    [450, 600],
    [0, 600],
  ] as const;
  for (const [index, corner] of corners.entries()) {
    const at = show(transform, corner.x * elementPx.widthPx, corner.y * elementPx.heightPx);
    expect(at.x).toBeCloseTo(wanted[index]?.[0] ?? NaN, 2);
    expect(at.y).toBeCloseTo(wanted[index]?.[1] ?? NaN, 2);
  }
  // Turned clockwise, its bottom left comes to the top left.
  const turned = placePicture(photo, { widthPx: 600, heightPx: 600 }, { ...wish, turnDegrees: 90 });
  const at = show(turned.transform, 0.15 * turned.elementPx.widthPx, 0.85 * turned.elementPx.heightPx);
  expect(at.x).toBeCloseTo(0, 2);
  expect(at.y).toBeCloseTo(0, 2);
});
