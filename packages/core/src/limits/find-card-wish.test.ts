import { expect, it } from 'vitest';
import { isCardWished } from './find-card-wish.ts';

it.each([
  ['Begin with a title card that says your name and the piece.', true],
  ['Your film needs an opening slate; keep it short.', true],
  ['Film it in one take. No title card, please.', false],
  ["Don't add an intro slide or music.", false],
  ['Please don’t use a title page.', false],
  ['Play without accompaniment. Add a title slide.', true],
  ['The title of the piece goes in the file name.', false],
])('"%s" asks for a card: %s', (text, isWished) => expect(isCardWished(text)).toBe(isWished));
