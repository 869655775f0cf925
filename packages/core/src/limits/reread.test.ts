import { expect, it } from 'vitest';
import { Limit } from './limit.ts';
import { answerLimits, rereadLimits } from './reread.ts';

const size = (id: string, maxBytes: number, changes = {}) =>
  Limit.parse({ id, kind: 'file-size', maxBytes, ...changes });

it('keeps what a person changed, and takes everything else from the new reading', () => {
  const before = [
    size('file-size', 5, { isChangedByPerson: true }),
    Limit.parse({ id: 'sharp', kind: 'sharp' }),
  ];
  const read = [
    size('file-size', 9),
    size('file-size-2', 7, { appliesTo: 'photo' }),
    Limit.parse({ id: 'one-take', kind: 'one-take' }),
  ];
  expect(
    rereadLimits(before, read).map((limit) => [limit.id, limit.kind === 'file-size' ? limit.maxBytes : null]),
  ).toEqual([
    ['file-size-2', 7],
    ['one-take', null],
    ['file-size', 5],
  ]);
});

it('never gives two limits the same id', () => {
  const before = [Limit.parse({ id: 'file-size', kind: 'sharp', isChangedByPerson: true })];
  expect(rereadLimits(before, [size('file-size', 9)]).map((limit) => limit.id)).toEqual([
    'file-size-2',
    'file-size',
  ]);
});

it('changes by an answer what the answer changes in the reading, and nothing else', () => {
  const due = Limit.parse({ id: 'due', kind: 'due', at: '2027-02-12T23:59' });
  const kept = [size('course-size', 4), Limit.parse({ id: 'sharp', kind: 'sharp', isChangedByPerson: true })];
  expect(answerLimits(kept, [size('file-size', 9)], [size('file-size', 9), due])).toEqual([...kept, due]);
  expect(answerLimits([...kept, due], [due], [])).toEqual(kept);
  // What a person wrote of the same thing stays.
  const own = { ...due, id: 'own', isChangedByPerson: true };
  expect(answerLimits([own], [], [due])).toEqual([own]);
});
