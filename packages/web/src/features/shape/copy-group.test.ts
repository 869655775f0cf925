import { createPlainColor, createPlainRecipe, keepRange } from '@apodix/core';
import { expect, it } from 'vitest';
import { copyGroup } from './copy-group.ts';

const plain = createPlainRecipe();
const color = { ...createPlainColor(), exposure: 1 };
const from = {
  ...keepRange(plain, { startUs: 1, finishUs: 2 }),
  picture: { ...plain.picture, straightenDegrees: 2, color },
  sound: { ...plain.sound, gainDb: 3 },
};

it('only what is asked for goes over, and never a cut', () => {
  expect(copyGroup(from, plain, 'color')).toEqual({ ...plain, picture: { ...plain.picture, color } });
  expect(copyGroup(from, plain, 'frame')).toEqual({
    ...plain,
    picture: { ...plain.picture, straightenDegrees: 2 },
  });
  // Corners and shaking are of one take alone: on another one they would mean nothing.
  const corner = (x: number, y: number) => ({ x, y });
  const corners = [corner(0.1, 0.1), corner(0.9, 0.1), corner(0.9, 0.9), corner(0.1, 0.9)];
  const flat = { ...from.picture, flatten: { corners: corners as never, aspect: 1 }, steady: 0.5 };
  expect(copyGroup({ ...from, picture: flat }, plain, 'frame').picture).toEqual({
    ...plain.picture,
    straightenDegrees: 2,
  });
  expect(copyGroup(from, plain, 'sound')).toEqual({ ...plain, sound: { ...plain.sound, gainDb: 3 } });
});

it('who made a piece goes over to the next, its title does not', () => {
  const tell = (title: string, artist: string) => ({ title, artist, rights: '' });
  const named = { ...plain, picture: { ...plain.picture, about: tell('Sea', 'Ineke') } };
  const other = { ...plain, picture: { ...plain.picture, about: tell('Wood', '') } };
  expect(copyGroup(named, other, 'about').picture.about).toEqual(tell('Wood', 'Ineke'));
  expect(copyGroup(named, plain, 'about').picture.about).toEqual(tell('', 'Ineke'));
  expect(copyGroup(plain, other, 'about').picture.about).toBeNull();
  const untold = { ...plain, picture: { ...plain.picture, about: tell('Sea', '') } };
  expect(copyGroup(untold, plain, 'about').picture.about).toBeNull();
  expect(copyGroup(named, other, 'frame').picture.about).toEqual(tell('Wood', ''));
});
