import type { AssignmentCard } from '@apodix/core';
import type { IsoWeekday } from '../../composables/local-dates.ts';

export interface TodayGroups {
  readonly ready: AssignmentCard[];
  readonly toMake: AssignmentCard[];
  readonly feedback: AssignmentCard[];
  readonly handedIn: AssignmentCard[];
}

/**
 * What needs doing first: ready but not handed in, then what is to make by due time, then what is done,
 * newest first.
 */
export function groupToday(cards: readonly AssignmentCard[]): TodayGroups {
  const byDue = (left: AssignmentCard, right: AssignmentCard) =>
    (left.dueAt ?? '9999').localeCompare(right.dueAt ?? '9999');
  const newestFirst = (left: AssignmentCard, right: AssignmentCard) =>
    (right.handedInAt ?? '').localeCompare(left.handedInAt ?? '');
  const isDone = (card: AssignmentCard) => card.state === 'handed-in' || card.state === 'feedback-back';
  const shown = cards.filter((card) => card.kind !== 'quick');
  return {
    ready: shown
      .filter((card) => (card.state === 'ready' || card.state === 'sending') && card.kind === 'course')
      .sort(byDue),
    toMake: shown.filter((card) => !isDone(card)).sort(byDue),
    feedback: shown.filter((card) => card.state === 'feedback-back').sort(newestFirst),
    handedIn: shown.filter((card) => card.state === 'handed-in').sort(newestFirst),
  };
}

/** Courses of the cards in the order of the alphabet. */
export function listCourses(cards: readonly AssignmentCard[]): string[] {
  return [...new Set(cards.filter((card) => card.kind !== 'quick').map((card) => card.courseTitle))].sort(
    (left, right) => left.localeCompare(right),
  );
}

/** Cards of one course (all where it is empty) whose title, course or subject holds every word. */
export function filterCards(
  cards: readonly AssignmentCard[],
  filter: { words: string; course: string },
): AssignmentCard[] {
  const words = filter.words.toLowerCase().split(/\s+/).filter(Boolean);
  return cards.filter((card) => {
    const text = `${card.title} ${card.courseTitle} ${card.subject}`.toLowerCase();
    return (
      (filter.course === '' || card.courseTitle === filter.course) &&
      words.every((word) => text.includes(word))
    );
  });
}

/** What is due within a day and not handed in; at most three, the nearest first. */
export function findReminders(cards: readonly AssignmentCard[], now: number): AssignmentCard[] {
  return cards
    .filter(
      (card) =>
        card.kind !== 'quick' &&
        card.dueAt !== null &&
        card.state !== 'handed-in' &&
        card.state !== 'feedback-back' &&
        card.state !== 'sending',
    )
    .filter((card) => Date.parse(card.dueAt ?? '') > now && Date.parse(card.dueAt ?? '') - now <= 86_400_000)
    .sort((left, right) => (left.dueAt ?? '').localeCompare(right.dueAt ?? ''))
    .slice(0, 3);
}

export interface CalendarDay {
  readonly date: Date;
  readonly day: number;
  readonly isToday: boolean;
  readonly mark: 'handed-in' | 'to-make' | 'last-day' | null;
  readonly titles: readonly string[];
}

/**
 * A month as weeks from the given day on; days of other months are null. Marks are told by shape as well as
 * by color.
 */
export function buildMonth(
  cards: readonly AssignmentCard[],
  year: number,
  month: number,
  now: Date,
  firstDay: IsoWeekday,
): (CalendarDay | null)[] {
  const count = new Date(year, month + 1, 0).getDate();
  const lead = (new Date(year, month, 1).getDay() - firstDay + 7) % 7;
  const byDay = new Map<string, AssignmentCard[]>();
  for (const card of cards) {
    if (card.dueAt === null) continue;
    const day = new Date(card.dueAt).toDateString();
    byDay.set(day, [...(byDay.get(day) ?? []), card]);
  }
  const days = Array.from({ length: count }, (_, index): CalendarDay => {
    const date = new Date(year, month, index + 1);
    const due = byDay.get(date.toDateString()) ?? [];
    const open = due.filter((card) => card.state !== 'handed-in' && card.state !== 'feedback-back');
    const isToday = date.toDateString() === now.toDateString();
    return {
      date,
      day: index + 1,
      isToday,
      mark: due.length === 0 ? null : open.length === 0 ? 'handed-in' : isToday ? 'last-day' : 'to-make',
      titles: due.map((card) => card.title),
    };
  });
  return [...Array.from({ length: lead }, () => null), ...days];
}
