import { formatWait } from '@apodix/core';
import { formatInstant, formatTime } from './local-dates.ts';

export interface DueWords {
  readonly left: string;
  readonly when: string;
  readonly isUrgent: boolean;
  /** Share of the time between setting and due that has passed, 0 to 1. */
  readonly passed: number;
}

/**
 * Time left in words, the due time in the person's own locale and zone, and how much of the time has passed.
 */
export function describeDue(dueAt: string | null, setAt: string | null, now: number): DueWords | null {
  if (dueAt === null) return null;
  const due = Date.parse(dueAt);
  const leftMs = due - now;
  const when = formatInstant(due);
  const start = setAt === null ? due - 7 * 86_400_000 : Date.parse(setAt);
  const passed = Math.min(1, Math.max(0, (now - start) / Math.max(1, due - start)));
  return leftMs < 0
    ? { left: `${formatWait(-leftMs)} late`, when, isUrgent: true, passed: 1 }
    : { left: `${formatWait(leftMs)} left`, when, isUrgent: leftMs < 86_400_000, passed };
}

/** A past instant: `today 14:02`, `yesterday 16:20`, `Fri 20 Nov, 15:12`. */
export function describePast(at: string, now: number): string {
  const date = new Date(at);
  const time = formatTime(date);
  const dayOf = (ms: number) => new Date(ms).toDateString();
  if (dayOf(date.getTime()) === dayOf(now)) return `today ${time}`;
  if (dayOf(date.getTime()) === dayOf(now - 86_400_000)) return `yesterday ${time}`;
  return formatInstant(date);
}
