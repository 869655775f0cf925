import { expect, it } from 'vitest';
import { moveRadio } from './move-radio.ts';

it.each([
  ['ArrowDown', 0, 1],
  ['ArrowRight', 2, 0],
  ['ArrowUp', 0, 2],
  ['ArrowLeft', 2, 1],
  ['Home', 2, 0],
  ['End', 0, 2],
  ['Enter', 0, null],
] as const)('%s from %d of three goes to %j', (key, from, to) => expect(moveRadio(key, from, 3)).toBe(to));
it('among none there is nowhere to go', () => expect(moveRadio('ArrowDown', 0, 0)).toBeNull());
