import type { AssignmentCard } from '@apodix/core';
import { describe, expect, it } from 'vitest';
import { buildMonth, filterCards, findReminders, groupToday, listCourses } from './today-groups.ts';

const card = (id: string, changes: Partial<AssignmentCard> = {}): AssignmentCard => ({
  id,
  kind: 'course',
  title: id,
  courseTitle: 'Solo',
  subject: 'music',
  dueAt: '2026-11-27T16:00:00Z',
  setAt: '2026-11-20T16:00:00Z',
  state: 'nothing-yet',
  situation: '',
  nextStep: '',
  nextStop: 'brief',
  coverUrl: null,
  proven: null,
  handedInAt: null,
  isChanged: false,
  receiptId: null,
  ...changes,
});
const ids = (cards: readonly AssignmentCard[]) => cards.map((each) => each.id);

describe('Today', () => {
  it('puts ready-but-not-handed-in first, to make by due time, done newest first, feedback apart', () => {
    const groups = groupToday([
      card('later', { dueAt: '2026-12-01T00:00:00Z' }),
      card('never', { dueAt: null }),
      card('soon', { dueAt: '2026-11-25T00:00:00Z' }),
      card('ready', { state: 'ready', dueAt: '2026-11-30T00:00:00Z' }),
      card('old', { state: 'handed-in', handedInAt: '2026-11-01T00:00:00Z' }),
      card('new', { state: 'handed-in', handedInAt: '2026-11-20T00:00:00Z' }),
      card('back', { state: 'feedback-back', handedInAt: '2026-11-10T00:00:00Z' }),
      card('quick', { kind: 'quick' }),
    ]);
    expect([ids(groups.ready), ids(groups.toMake), ids(groups.handedIn), ids(groups.feedback)]).toEqual([
      ['ready'],
      ['soon', 'ready', 'later', 'never'],
      ['new', 'old'],
      ['back'],
    ]);
  });

  it('finds by course and by every word, in any case', () => {
    const cards = [card('Marimba solo'), card('Linocut', { courseTitle: 'Printmaking', subject: 'art' })];
    expect(ids(filterCards(cards, { words: 'SOLO mar', course: '' }))).toEqual(['Marimba solo']);
    expect(ids(filterCards(cards, { words: '', course: 'Printmaking' }))).toEqual(['Linocut']);
    expect(filterCards(cards, { words: 'art', course: 'Solo' })).toEqual([]);
    expect(listCourses(cards)).toEqual(['Printmaking', 'Solo']);
  });

  it('reminds of what is due within a day, the nearest three', () => {
    const now = Date.parse('2026-11-24T12:00:00Z');
    const at = (hours: number) => new Date(now + hours * 3_600_000).toISOString();
    const cards = [
      card('past', { dueAt: at(-1) }),
      card('c', { dueAt: at(20) }),
      card('a', { dueAt: at(2) }),
      card('done', { dueAt: at(3), state: 'handed-in' }),
      card('b', { dueAt: at(9) }),
      card('d', { dueAt: at(24) }),
      card('far', { dueAt: at(25) }),
    ];
    expect(ids(findReminders(cards, now))).toEqual(['a', 'b', 'c']);
  });

  it('lays a month out from Monday, with a mark of its own shape for each state', () => {
    const days = buildMonth(
      [
        card('x', { dueAt: new Date(2026, 10, 24, 12).toISOString() }),
        card('y', { dueAt: new Date(2026, 10, 20, 12).toISOString(), state: 'handed-in' }),
        card('z', { dueAt: new Date(2026, 10, 27, 12).toISOString() }),
      ],
      2026,
      10,
      new Date(2026, 10, 24),
      1,
    );
    // 1 November 2026 is a Sunday: six empty places before it.
    expect(days.slice(0, 7).map((day) => day?.day ?? null)).toEqual([null, null, null, null, null, null, 1]);
    expect([20, 24, 27, 28].map((day) => days.find((each) => each?.day === day)?.mark)).toEqual([
      'handed-in',
      'last-day',
      'to-make',
      null,
    ]);
  });

  it('sorts 300 assignments in a blink', () => {
    const cards = Array.from({ length: 300 }, (_, index) =>
      card(String(index), { dueAt: new Date(Date.UTC(2026, 10, 1 + ((index * 7) % 60))).toISOString() }),
    );
    const dues = groupToday(cards).toMake.map((each) => each.dueAt ?? '');
    expect(dues).toEqual([...dues].sort());
  });
});
