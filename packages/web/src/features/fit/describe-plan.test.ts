import { createPlainColor, createPlainRecipe, type Plan } from '@apodix/core';
import { expect, it } from 'vitest';
import { describePlan, describeShape } from './describe-plan.ts';

const build = (plan: object) => plan as unknown as Plan;

it('tells a photograph by what it has, and nothing that it has not', () => {
  const plan = build({
    kind: 'photo',
    container: 'jpeg',
    widthPx: 1000,
    heightPx: 750,
    fileName: 'Varga.jpg',
  });
  expect(describePlan(plan)).toEqual([
    ['Format', 'JPEG'],
    ['Picture', '1000×750'],
    ['Name', 'Varga.jpg'],
  ]);
});

it('tells what is done to the recording, and nothing where nothing is', () => {
  const plain = createPlainRecipe();
  expect(describeShape(plain)).toBe('');
  const color = { ...createPlainColor(), exposure: 1 };
  expect(
    describeShape({
      ...plain,
      picture: { ...plain.picture, color, straightenDegrees: 1 },
      sound: { ...plain.sound, isRumbleCut: true },
    }),
  ).toBe('colours, straightened, sound mended');
});
