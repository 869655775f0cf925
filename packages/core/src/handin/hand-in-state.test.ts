import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import {
  findStanding,
  HandInState,
  handInMoves,
  isHeld,
  moveHandIn,
  type HandInEvent,
} from './hand-in-state.ts';

describe('the states of a hand-in', () => {
  it('go from a press to a receipt', () => {
    expect(moveHandIn('draft', 'press')).toBe('on-its-way');
    expect(moveHandIn('on-its-way', 'confirm')).toBe('received');
    expect(moveHandIn('on-its-way', 'refuse')).toBe('not-handed-in');
    expect(moveHandIn('received', 'return')).toBe('returned');
  });

  it.each<[HandInState, HandInEvent]>([
    ['received', 'stop'],
    ['received', 'refuse'],
    ['received', 'press'],
    ['not-handed-in', 'confirm'],
    ['taken-back', 'press'],
    ['accepted', 'take-back'],
  ])('that is %s takes no %s', (from, event) => expect(() => moveHandIn(from, event)).toThrow(RangeError));

  it('what the teacher has never becomes "not handed in"', () => {
    for (const from of HandInState.options.filter(isHeld))
      for (const to of Object.values(handInMoves[from])) expect(to).not.toBe('not-handed-in');
  });

  it('are drawn in the docs, every transition with its name', () => {
    const drawn = [
      ...readFileSync('docs/hand-in.md', 'utf8').matchAll(/^ {2}([a-z-]+) --> ([a-z-]+): ([a-z-]+)$/gm),
    ].map(([, from, to, event]) => `${from} ${event} ${to}`);
    const known = Object.entries(handInMoves).flatMap(([from, moves]) =>
      Object.entries(moves).map(([event, to]) => `${from} ${event} ${to}`),
    );
    expect(drawn.sort()).toEqual(known.sort());
  });
});

describe('the hand-in that counts', () => {
  const at = (minute: number, state: HandInState) => ({ state, createdAt: new Date(minute * 60_000) });

  it('is the one received after one that was refused', () =>
    expect(findStanding([at(1, 'not-handed-in'), at(2, 'received')])?.state).toBe('received'));
  it('stays the received one where a later one did not go through', () =>
    expect(findStanding([at(3, 'not-handed-in'), at(2, 'received')])?.state).toBe('received'));
  it('is what is on its way', () =>
    expect(findStanding([at(3, 'on-its-way'), at(2, 'received')])?.state).toBe('on-its-way'));
  it('is the newest of two that were received', () =>
    expect(findStanding([at(2, 'received'), at(5, 'returned')])?.state).toBe('returned'));
  it('is the newest that failed where nothing else is, and none before that', () => {
    expect(findStanding([at(1, 'not-handed-in')])?.state).toBe('not-handed-in');
    expect(findStanding([])).toBeNull();
  });
});
