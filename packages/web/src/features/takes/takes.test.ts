import { describe, expect, it } from 'vitest';
import { describeLikeness } from './describe-likeness.ts';
import { searchTakes } from './search-takes.ts';

const take = (id: string, name: string, sha256: string, likeness: string | null, minute: number) => ({
  id,
  name,
  sha256,
  createdAt: `2026-11-27T10:0${minute}:00.000Z`,
  facts: { likeness } as never,
  note: null,
  kind: 'photo' as const,
});

describe('searchTakes', () => {
  const takes = [
    { ...take('a', 'Étude, first try.webm', '1', null, 0), note: 'too fast' },
    take('b', 'Linocut block.jpg', '2', null, 1),
  ];
  it.each([
    ['etude', ['a']],
    ['FAST first', ['a']],
    ['photo', ['a', 'b']],
    ['cello', []],
    [' ', ['a', 'b']],
  ] as const)('%j finds %j', (words, ids) => {
    expect(searchTakes(takes, words).map(({ id }) => id)).toEqual(ids);
  });
});

describe('describeLikeness', () => {
  const first = take('a', 'block.jpg', '1', 'ffff0000ffff0000', 0);
  const again = take('b', 'block (1).jpg', '1', 'ffff0000ffff0000', 1);
  const nearly = take('c', 'block crop.jpg', '3', 'ffff0000ffff0001', 2);
  const other = take('d', 'print.jpg', '4', '00ff00ff00ff00ff', 3);
  const all = [other, nearly, again, first];
  it('tells the younger one that it is there already', () => {
    expect(describeLikeness(first, all)).toBeNull();
    expect(describeLikeness(again, all)).toBe('The same file as block.jpg.');
    expect(describeLikeness(nearly, all)).toMatch(/^Looks nearly the same as block/);
    expect(describeLikeness(other, all)).toBeNull();
  });
  it('says nothing of what cannot be told', () => {
    const sound = take('e', 'a.wav', '5', null, 4);
    expect(describeLikeness({ ...sound, id: 'f', sha256: '6' }, [sound])).toBeNull();
  });
});
