import { Limit, readInstructions } from '@apodix/core';
import { expect, it } from 'vitest';
import { describeBytes } from './describe-bytes.ts';

it('says how MB was read, and nothing where MiB was said or a person set it', () => {
  const read = (text: string) =>
    describeBytes(readInstructions(text).limits[0] as Limit).replace(/\u202f/g, ' ');
  expect([read('at most 100 MB'), read('at most 100 MiB')]).toEqual([
    'Read as 100 000 000 bytes, the stricter of the two meanings.',
    '',
  ]);
  expect(
    describeBytes(
      Limit.parse({ id: 'x', kind: 'file-size', maxBytes: 5, isAmbiguous: true, isChangedByPerson: true }),
    ),
  ).toBe('');
});
