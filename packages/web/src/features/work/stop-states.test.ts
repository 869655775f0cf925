import type { AssignmentView } from '@apodix/core';
import { describe, expect, it } from 'vitest';
import { buildStops } from './stop-states.ts';

const view = (changes: object) =>
  ({
    kind: 'course',
    state: 'nothing-yet',
    takes: [],
    made: [],
    slots: [],
    handIns: [],
    ...changes,
  }) as unknown as AssignmentView;
const read = (changes: object) =>
  buildStops(view(changes)).map((stop) => [stop.label, stop.isDone, stop.needs]);

describe('the five stops', () => {
  it('tell what they still need, and never lock', () => {
    expect(read({})).toEqual([
      ['Brief', false, null],
      ['Takes', false, null],
      ['Shape', false, 'a take'],
      ['Fit', false, 'a take'],
      ['Hand in', false, 'a made file'],
    ]);
  });
  it('are done as the work goes on', () => {
    const take = { state: 'ready', recipe: { version: 2 } };
    expect(
      read({ takes: [take], made: [{ isCurrent: true }], state: 'ready' }).map(([, isDone]) => isDone),
    ).toEqual([true, true, true, true, false]);
    expect(
      read({
        takes: [take],
        made: [{ isCurrent: true }],
        state: 'handed-in',
        handIns: [{ state: 'received' }],
      }).map(([, isDone]) => isDone),
    ).toEqual([true, true, true, true, true]);
  });
  it('an assignment of one’s own ends in saving', () =>
    expect(read({ kind: 'own' }).at(-1)?.[0]).toBe('Save'));
});
