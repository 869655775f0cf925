import { expect, it } from 'vitest';
import { addWords } from './add-words.ts';

it('puts words behind those that are there, a line between them, and none before the first', () => {
  expect(addWords('', 'MP4 only.')).toBe('MP4 only.');
  expect(addWords(' \n ', 'MP4 only.')).toBe('MP4 only.');
  expect(addWords('At most 20 MB.\n', 'MP4 only.')).toBe('At most 20 MB.\n\nMP4 only.');
  expect(addWords('At most 20 MB.', '')).toBe('At most 20 MB.');
});
