import { describe, expect, it } from 'vitest';
import { Limit } from '../limits/limit.ts';
import { judgeParcel } from './judge-parcel.ts';
import { findMissing, type Slot } from './parcel.ts';

const text = { note: '', participants: '', isOwnWork: true };
const slot = (
  id: string,
  min: number,
  max: number,
  alternative: string | null = null,
  item: Slot['item'] = 'photo',
): Slot => ({ id, label: id, item, min, max, alternative });
const item = (slotId: string, index: number, sizeBytes = 10) => ({
  slotId,
  fileName: `${slotId}${index}.jpg`,
  sizeBytes,
  everyMustMet: true,
  sourceSha256: null,
  likeness: null,
});
const missing = (slots: Slot[], items: ReturnType<typeof item>[]) =>
  findMissing({ slots, items, answers: [], text, limits: [] });

describe('alternatives', () => {
  const slots = [slot('film', 1, 1, 'a', 'video'), slot('photos', 4, 4, 'b')];
  it('either will do', () => {
    expect(missing(slots, [])).toEqual(['put in: film, or put in 4 more: photos']);
    expect(missing(slots, [item('film', 1)])).toEqual([]);
    expect(
      missing(
        slots,
        [1, 2, 3, 4].map((index) => item('photos', index)),
      ),
    ).toEqual([]);
  });
  it('goes on with the one that was begun', () =>
    expect(missing(slots, [item('photos', 1)])).toEqual(['put in 3 more: photos']));
  it('what is wanted in any case is still wanted', () =>
    expect(missing([...slots, slot('score', 1, 1)], [item('film', 1)])).toEqual(['put in: score']));
});

describe('slots for words', () => {
  const slots = [slot('why', 1, 1, null, 'text'), slot('where', 1, 1, null, 'link')];
  const ask = (why: string, where: string) =>
    findMissing({
      slots,
      items: [],
      answers: [
        { slotId: 'why', text: why },
        { slotId: 'where', text: where },
      ],
      text,
      limits: [],
    });
  it.each([
    ['', '', ['write: why', 'put in the link: where']],
    ['   ', 'not an address', ['write: why', 'give a whole web address: where']],
    ['Because.', 'javascript:alert(1)', ['give a whole web address: where']],
    ['Because.', 'https://pages.example/piece', []],
  ])('%j and %j: %j', (why, where, left) => expect(ask(why, where)).toEqual(left));
  it('a slot that may stay empty asks for nothing', () =>
    expect(
      findMissing({ slots: [slot('why', 0, 1, null, 'text')], items: [], answers: [], text, limits: [] }),
    ).toEqual([]));
});

describe('judgeParcel', () => {
  const facts = {
    items: [
      { ...item('x', 1, 600), kind: 'photo' as const },
      { ...item('x', 2, 500), kind: 'photo' as const },
    ],
    text,
    attemptsUsed: 1,
    isDue: false,
  };
  const judge = (raw: Record<string, unknown>) => judgeParcel([Limit.parse({ id: 'l', ...raw })], facts)[0];
  it.each([
    [{ kind: 'count', item: 'photo', min: 2, max: 2 }, 'met', '2'],
    [{ kind: 'count', item: 'photo', min: 3, max: 3 }, 'short', '2'],
    [{ kind: 'count', item: 'photo', min: 0, max: 1 }, 'short', '2'],
    [{ kind: 'count', item: 'video', min: 1, max: 1, alternative: 'a' }, 'unknown', '0'],
    [{ kind: 'total-size', maxBytes: 1100 }, 'met', '1.1 kB'],
    [{ kind: 'total-size', maxBytes: 1099 }, 'short', '1.1 kB'],
    [{ kind: 'own-work' }, 'met', 'stated'],
    [{ kind: 'note' }, 'short', null],
    [{ kind: 'attempts', max: 1 }, 'short', '1 used'],
    [{ kind: 'due', at: '2026-11-27T16:00' }, 'met', null],
  ])('%j is %s', (raw, state, figure) => {
    const finding = judge(raw);
    expect([finding?.state, finding?.figure]).toEqual([state, figure]);
    if (state === 'short') expect(finding?.fix?.by).toBe('person');
  });
  it('counts what is written where an answer or a link is wanted', () => {
    const limit = Limit.parse({ id: 'l', kind: 'count', item: 'text', min: 1, max: 1 });
    expect(judgeParcel([limit], facts)[0]?.state).toBe('short');
    expect(judgeParcel([limit], { ...facts, written: ['text'] })[0]?.state).toBe('met');
    expect(judgeParcel([limit], { ...facts, written: ['link'] })[0]?.fix?.by).toBe('person');
  });
  it('says nothing of limits on a file', () =>
    expect(judge({ kind: 'file-size', maxBytes: 1 })).toBeUndefined());
});
